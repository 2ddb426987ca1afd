// Note tracks in the browser: made, edited while they play, brought in from a file, heard as they are rendered,
// printed.
import { writeMidi } from 'midi-file'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { compile } from '@nullet/core/compile/compile'
import { PlanStream, renderWhole } from '@nullet/core/run/stream'
import { MemoryMedia } from '@nullet/core/run/memoryMedia'
import { rows, settings } from '@nullet/core/session/session'
import { closeBrowser, openPage } from './support/browser'
import { answer, apply, keys, makeSession, readSession, saved } from './support/hands'
import { capture, heardFor, heardIn, inPage, play, stop, WHERE_IT_RAN_DRY } from './support/sound'

const { url } = inject('stage')
const RATE = 48000
let page: Page, complaints: string[]

beforeAll(async () => {
  await makeSession(url, 'notes')
  ;({ page, complaints } = await openPage(`${url}/s/notes/network`))
  await page.waitForSelector('.tools')
})
afterAll(closeBrowser)

const phrases = async () => {
  await saved(page)
  return rows(await readSession(url, 'notes'), 'phrase')
}
const phraseOf = async (name: string) => {
  await saved(page)
  const s = await readSession(url, 'notes')
  return rows(s, 'phrase').find(p => s.channel[p.channel]!.name === name)!
}
const newTrack = async (kind: string, name: string) => {
  await keys(page, 'n n')
  await answer(page, kind)
  await answer(page, name)
  await page.waitForSelector('[data-notes]')
}

describe('a step pattern', () => {
  it('is made with its track, which feeds the main', async () => {
    await newTrack('a step pattern', 'Trigger')
    const p = await phraseOf('Trigger'),
      s = await readSession(url, 'notes')
    expect(p).toMatchObject({ as: 'steps', voice: 'drum', repeats: 16, lengthBeats: 4 })
    expect(rows(s, 'feed').some(f => f.from === p.channel && f.kind === 'main')).toBe(true)
  })

  it('steps are put and taken out while it plays', async () => {
    await play(page)
    await heardFor(page, RATE * 0.3)
    const svg = (await page.locator('[data-note-grid] svg').boundingBox())!
    await page.mouse.click(svg.x + 26 * 6 + 8, svg.y + 8)
    const p = await phraseOf('Trigger')
    expect(p.notes).toHaveLength(5)
    expect(p.notes.find(n => n[0] === 1.5)).toEqual([1.5, 0.25, 50, 100])
    await page.locator('[data-note]').first().click()
    expect((await phraseOf('Trigger')).notes).toHaveLength(4)
    await page.keyboard.press('Control+z')
    await saved(page)
  })

  it('and what is heard from then on is what a render gives', WHERE_IT_RAN_DRY, async () => {
    const now = await readSession(url, 'notes')
    await play(page, 24000)
    await heardFor(page, RATE * 0.1)
    const out = await capture(page, 48000)
    const latency = await inPage(
      page,
      async t => {
        t.stop()
        return t.info.latency
      },
      null
    )
    const heard = settings(now).heardChannel!
    const render = (
      await renderWhole(
        new PlanStream(
          compile(now, { taps: [], live: true, heard: { channel: heard, latency } }),
          now,
          new MemoryMedia()
        ),
        { from: 0, frames: RATE * 5 }
      )
    ).get('ears')!
    expect(heardIn(out, render, 9600)).toBeGreaterThan(0)
  })

  it('velocity is dragged, notes are moved by keys', async () => {
    const before = (await phraseOf('Trigger')).notes
    const note = page.locator('[data-note]').first()
    const box = (await note.boundingBox())!
    await page.mouse.move(box.x + 6, box.y + 6)
    await page.mouse.down()
    await page.mouse.move(box.x + 6, box.y + 36, { steps: 3 })
    await page.mouse.up()
    expect((await phraseOf('Trigger')).notes[0]![3]).toBe(before[0]![3] - 30)
    await note.focus()
    await page.keyboard.press('ArrowRight')
    expect((await phraseOf('Trigger')).notes.some(n => n[0] === 0.25)).toBe(true)
  })
})

describe('a held chord', () => {
  it('takes notes typed or pressed on keys', async () => {
    await keys(page, 'Escape')
    await newTrack('a held chord', 'Carrier')
    const field = page.locator('[data-chord] input, input[data-chord]')
    await field.fill('A2 E3 C4 G4')
    await field.press('Enter')
    expect((await phraseOf('Carrier')).notes.map(n => n[2])).toEqual([45, 52, 60, 67])
    await page.getByRole('button', { name: 'E3', exact: true }).click()
    expect((await phraseOf('Carrier')).notes.map(n => n[2])).toEqual([45, 60, 67])
    await field.fill('H7')
    await field.press('Enter')
    await page.getByText(/“H7” are not notes/).waitFor()
    await field.blur()
    expect((await phraseOf('Carrier')).notes).toHaveLength(3)
  })

  it('is keyed by the pattern: what is invented shapes what is held', async () => {
    const pattern = (await phraseOf('Trigger')).channel,
      chord = (await phraseOf('Carrier')).channel
    await apply(page, 'addSlot', { id: 'spec', channel: chord, processor: 'spectral', params: {}, order: 'a0' })
    await apply(page, 'addKey', { ids: [pattern], slot: 'spec', feedIds: ['key1'] })
    await saved(page)
    const s = await readSession(url, 'notes')
    const [x] = (
      await renderWhole(new PlanStream(compile(s, { taps: [{ channel: chord, tap: 'post' }] }), s, new MemoryMedia()), {
        from: 0,
        frames: RATE * 2
      })
    ).get(`${chord}@post`)!
    const rms = (from: number) => Math.sqrt(x.subarray(from, from + 2400).reduce((sum, v) => sum + v * v, 0) / 2400)
    // Loud where the pattern strikes (every beat, here every half second), quiet just before.
    expect(rms(24000) / rms(24000 - 2600)).toBeGreaterThan(3)
  })
})

describe('printed', () => {
  it('while it is being played: the print is the notes as they were, identical to the live path', async () => {
    await keys(page, 'Escape Escape')
    const { channel } = await phraseOf('Trigger')
    await play(page)
    await page.locator(`[data-channel="${channel}"] .name`).click({ position: { x: 4, y: 6 } })
    await keys(page, 'p r')
    await page.locator('[data-run]').click()
    await page.locator('[data-print] [data-residual]').first().waitFor({ timeout: 90_000 })
    expect(await page.locator('[data-print] [data-residual]').first().innerText()).toBe(
      'identical to the live path: −∞'
    )
    await stop(page)
    const s = await readSession(url, 'notes')
    expect(rows(s, 'print')[0]!.source).toBe(channel)
    expect(rows(s, 'phrase').some(p => p.channel === rows(s, 'print')[0]!.channel)).toBe(false)
  })
})

describe('a Standard MIDI File', () => {
  const file = (cut = 0) => {
    const on = (deltaTime: number, noteNumber: number) => ({
      deltaTime,
      type: 'noteOn' as const,
      channel: 0,
      noteNumber,
      velocity: 90
    })
    const bytes = writeMidi({
      header: { format: 1, numTracks: 1, ticksPerBeat: 480 },
      tracks: [
        [
          { deltaTime: 0, type: 'trackName', text: 'Lantern song' },
          { deltaTime: 0, type: 'setTempo', microsecondsPerBeat: 800000 },
          on(0, 60),
          { deltaTime: 480, type: 'noteOff', channel: 0, noteNumber: 60, velocity: 0 },
          on(0, 64),
          { deltaTime: 480, type: 'noteOff', channel: 0, noteNumber: 64, velocity: 0 },
          { deltaTime: 0, type: 'endOfTrack' }
        ] as never
      ]
    })
    return Buffer.from(bytes.slice(0, bytes.length - cut))
  }
  const bring = async (buffer: Buffer, name: string) => {
    await keys(page, 'v s')
    await page.locator('[data-audio]').setInputFiles({ name, mimeType: 'audio/midi', buffer })
  }

  it('becomes note tracks; the tempo stays where there were notes already', async () => {
    await page.keyboard.press('Escape')
    await bring(file(), 'song.mid')
    await page.getByText(/One note track from song.mid. The tempo of the session stays/).waitFor()
    expect((await phraseOf('Lantern song')).notes).toEqual([
      [0, 1, 60, 90],
      [1, 1, 64, 90]
    ])
  })

  it('that is broken is refused by name, and nothing comes of it', async () => {
    const before = (await phrases()).length
    await bring(file(9), 'torn.mid')
    await page.getByText(/“torn.mid” is not a Standard MIDI File that can be read: its chunk 2/).waitFor()
    expect(await phrases()).toHaveLength(before)
  })
})

describe('tempo', () => {
  it('a map is set in its sheet; a place that cannot be is said there', async () => {
    await keys(page, 't m')
    const first = page.getByRole('textbox', { name: 'tempo 1' })
    await first.fill('96')
    await page.getByText('another tempo later on').click()
    await page.getByRole('textbox', { name: 'place 2' }).fill('0.1')
    await page.locator('[data-do]').click()
    await page.getByText(/Line 2: a place is bar.beat/).waitFor()
    await page.getByRole('textbox', { name: 'place 2' }).fill('3.1')
    await page.getByRole('textbox', { name: 'tempo 2' }).fill('48')
    await page.locator('[data-do]').click()
    await saved(page)
    expect((await readSession(url, 'notes')).session.session.tempo).toEqual([
      [0, 96],
      [8, 48]
    ])
  })

  it('points over time snap to it', async () => {
    await keys(page, 'v n')
    await page.locator('[data-channel] .name', { hasText: 'Carrier' }).click({ position: { x: 4, y: 6 } })
    await keys(page, 'm o')
    await page.locator('[data-lane]').first().waitFor()
    await page.locator('.movement .tools .el-select').click()
    await page.getByRole('option', { name: 'bars' }).click()
    const box = (await page.locator('[data-lane]').first().boundingBox())!
    await page.mouse.click(box.x + box.width * 0.21, box.y + 40)
    await saved(page)
    const [[frame]] = rows(await readSession(url, 'notes'), 'envelope')[0]!.points as [number, number][]
    // Two bars at 96, then bars of five seconds.
    const bars = [0, 2.5, 5, 10, 15, 20, 25, 30, 35].map(s => s * RATE)
    expect(bars).toContain(frame)
  })

  it('nothing was complained about', () => {
    expect(complaints).toEqual([])
  })
})

// The rig under a hand: measured levels and a trim, recall, a room from the library, a DI through an amplifier, and a
// session that changes rooms.
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { rows } from '@nullet/core/session/session'
import { connectStore, type Sql } from '../server/store/connect'
import { loadDemo } from '../demo/load'
import { closeBrowser, openPage } from './support/browser'
import { answer, apply, choose, keys, makeSession, pick, readSession, saved } from './support/hands'

const { url, database } = inject('stage')
let page: Page, complaints: string[], sql: Sql
const session = () => readSession(url, 'room')
const said = () => page.locator('.notice').last().innerText()

beforeAll(async () => {
  sql = connectStore(database, 4)
  await loadDemo(sql, 4, 'room')
  ;({ page, complaints } = await openPage(`${url}/s/room/network`))
  await page.waitForSelector('[data-channel=kora]')
})
afterAll(async () => {
  await closeBrowser()
  await sql?.end()
})
beforeEach(async () => {
  for (let i = 0; i < 8; i++) await page.keyboard.press('Escape')
})
async function rig(): Promise<void> {
  await keys(page, 'v r')
  await page.waitForSelector('.rigview')
}

describe('a pass outside, by files', () => {
  it('goes out between marks, comes back late, turned and lower, and is laid where it was, as it was', async () => {
    await pick(page, 'kora')
    await keys(page, 'p o')
    await page.waitForSelector('[data-sheet]')
    const href = (await page.locator('[data-feed-file]').getAttribute('href'))!.replace('depth=24', 'depth=32f')
    const feed = Buffer.from(await (await fetch(url + href)).arrayBuffer())
    const before = await session(),
      sent = before.medium[rows(before, 'clip').find(c => c.channel === 'kora')!.medium]!
    const { header, frames } = samplesOf(feed)
    const studio = new Float32Array(frames.length + 12_345 * sent.legs)
    frames.forEach((v, n) => (studio[n + 12_345 * sent.legs] = -0.5 * v))
    const bytes = Buffer.concat([header, Buffer.from(studio.buffer)])
    bytes.writeUInt32LE(bytes.length - 8, 4)
    bytes.writeUInt32LE(studio.byteLength, header.length - 4)
    await page
      .locator('[data-returned]')
      .setInputFiles({ name: 'from the island.wav', mimeType: 'audio/wav', buffer: bytes })
    await expect.poll(() => page.getByRole('button', { name: 'Lay it in place' }).isEnabled()).toBe(true)
    await page.fill('#offsite-name', 'Kora from the island')
    await page.getByRole('button', { name: 'Lay it in place' }).click()
    await page.waitForSelector('[data-offsite-notes]')
    const notes = await page.locator('[data-offsite-notes]').innerText()
    expect(notes).toContain('its polarity was turned: turned back')
    expect(notes).toContain('its gain was −6.02 dB: put right')
    await page.locator('[data-sheet] [data-do]').click()
    const after = await session()
    const laid = rows(after, 'channel').find(c => c.name === 'Kora from the island')!
    expect(after.channel.kora!.muted).toBe(true)
    expect(rows(after, 'channel').find(c => c.name === 'from the island')).toMatchObject({ parked: true })
    const medium = after.medium[rows(after, 'clip').find(c => c.channel === laid.id)!.medium]!
    const [was, is] = await Promise.all(
      [sent.id, medium.id].map(async id =>
        samplesOf(
          Buffer.from(
            await (await fetch(`${url}/api/sessions/room/wav?medium=${encodeURIComponent(id)}`)).arrayBuffer()
          )
        )
      )
    )
    let rest = 0,
      all = 0
    was!.frames.forEach((v, n) => {
      rest += (is!.frames[n]! - v) ** 2
      all += v * v
    })
    expect(10 * Math.log10(rest / all)).toBeLessThan(-80)
    await page.keyboard.press('Control+z')
    await expect.poll(async () => !!(await session()).channel[laid.id]).toBe(false)
  })
})

/** Of a WAV file in 32-bit float, with all before its samples. */
function samplesOf(file: Buffer): { header: Buffer; frames: Float32Array } {
  const data = file.indexOf('data') + 8
  const bytes = file.subarray(data, data + file.readUInt32LE(data - 4))
  return { header: file.subarray(0, data), frames: new Float32Array(Uint8Array.from(bytes).buffer) }
}

describe('re-amping in one step', () => {
  it('says what is going to be, builds it, and is one undo', async () => {
    const before = await session()
    await pick(page, 'kora')
    await keys(page, 'r a')
    await page.waitForSelector('[data-sheet]')
    await page.locator('[data-way="Tube amplifier"] input').check()
    const steps = await page.locator('[data-sheet] ol').innerText()
    expect(steps).toContain('“Kora DI”, as it was recorded')
    expect(steps).toContain('mono, to Loft out 5')
    expect(steps).toContain('what its 0 dBFS was at the DI is not known')
    for (const [dbu, said] of [
      ['12', 'at −6.0 dB, the voltage it was recorded at: its 0 dBFS was +12.0 dBu'],
      ['18', 'at 0.0 dB, the voltage it was recorded at: its 0 dBFS was +18.0 dBu']
    ]) {
      await page.getByLabel('what 0 dBFS of the DI was, in dBu').first().click()
      await page.keyboard.type(dbu!)
      await page.keyboard.press('Enter')
      await expect.poll(() => page.locator('[data-sheet] ol').innerText()).toContain(said)
    }
    expect(steps).toContain('back at Loft in 5')
    await page.fill('#reamp-name', 'Kora amp')
    await page.getByRole('button', { name: 'Re-amp it' }).click()
    await saved(page)
    const after = await session()
    const print = rows(after, 'channel').find(c => c.name === 'Kora amp')!
    expect(print).toMatchObject({ kind: 'track', listen: 'feed', layout: ['M'] })
    expect(rows(after, 'feed').find(f => f.kind === 'port' && f.from === 'kora')).toMatchObject({
      tap: 'input',
      levelDb: 0
    })
    expect(after.channel.kora!.sourceDbu).toBe(18)
    expect(after.channel.kora!.muted).toBe(true)
    await page.keyboard.press('Control+z')
    await saved(page)
    expect(await session()).toEqual(before)
    await page.keyboard.press('Control+Shift+z')
    await saved(page)
    expect(rows(await session(), 'loop').map(l => l.name)).toEqual(['Kora amp'])
  })

  it('a second one through the same amplifier is refused by name, and the check finds what is put beside it', async () => {
    await apply(page, 'addPortFeed', {
      feedId: 'stray',
      channel: 'shakers',
      ports: ['loft-io-out-5'],
      direction: 'out'
    })
    await saved(page)
    await pick(page, 'kalimba')
    await keys(page, 'r a')
    await expect
      .poll(() => page.locator('[data-way="Tube amplifier"]').innerText())
      .toMatch(/“(Kora DI|Shakers)” goes to Loft out 5/)
    await page.keyboard.press('Escape')
    await page.locator('[data-checks]').click()
    const check = page.locator('article', { hasText: 'together with the input of “Kora DI”' })
    await check.getByRole('button', { name: 'Leave “Kora DI” there alone' }).click()
    await saved(page)
    expect((await session()).feed.stray).toBeUndefined()
  })

  it('a line out that goes straight into an instrument input is said, and an attenuator comes between', async () => {
    await page.locator('[data-checks]').click()
    const straight = page.locator('article', { hasText: 'goes straight into “Instrument in” of Tube amplifier' })
    await straight.getByRole('button', { name: 'Put a re-amp attenuator between' }).click()
    await straight.waitFor({ state: 'detached' })
    await saved(page)
    const cables = rows(await session(), 'cable')
    const box = rows(await session(), 'unit').find(u => u.model === 'reamp-attenuator')!
    expect(cables.find(c => c.toUnit === 'tube')).toMatchObject({ fromUnit: box.id })
    expect(cables.find(c => c.toUnit === box.id)).toMatchObject({ fromPort: 'loft-io-out-5' })
    await page.keyboard.press('Escape')
    await page.keyboard.press('Control+z')
    await expect.poll(async () => (await session()).unit[box.id]).toBeUndefined()
  })
})

describe('a loop', () => {
  it('is pinged, remembers earlier pings, and says what has moved since', async () => {
    await rig()
    await page.click('[data-ping]')
    await page.waitForSelector('[data-delay]')
    await apply(page, 'setUnit', { id: 'tube', fields: { settings: { microphoneDb: -3 } } })
    await saved(page)
    await page.click('[data-ping]')
    await expect.poll(async () => rows(await session(), 'loop')[0]!.former.length).toBe(1)
    await page.getByText('history', { exact: true }).click()
    await expect.poll(() => page.locator('[data-recall]').innerText()).toContain('3.0 dB low over the whole band')
  })

  it('shows its levels from port to return, and is trimmed to a target by what feeds it', async () => {
    await page.getByText('levels', { exact: true }).click()
    await page.click('[data-measure-ladder]')
    await page.waitForSelector('[data-rung]')
    const rungs = await page.locator('[data-rung]').allInnerTexts()
    expect(rungs.map(r => r.split('\t')[0])).toEqual([
      'Loft out 5',
      'Tube amplifier, Instrument in',
      'Tube amplifier, Microphone',
      'Loft in 5',
      'Return'
    ])
    await page.click('[data-trim]')
    await expect.poll(said).toMatch(/Tube amplifier, Instrument in: −1[78]\.\d dBu/)
    await saved(page)
    const sent = async () => rows(await session(), 'feed').find(f => f.kind === 'port' && f.from === 'kora')!.levelDb
    expect(await sent()).not.toBe(0)
    const level = Number(
      (await page.locator('[data-rung="unit/tube/0"]').innerText()).split('\t')[3]!.replace('−', '-')
    )
    expect(Math.abs(level + 18)).toBeLessThan(0.2)
    await page.locator('.notice').last().getByText('Undo').click()
    await saved(page)
    expect(await sent()).toBe(0)
  })

  it('that nothing feeds is not measured, and says what to do; in a slot it is', async () => {
    const s = await session()
    const loop = rows(s, 'loop')[0]!
    await apply(page, 'removeFeeds', {
      ids: rows(s, 'feed')
        .filter(f => f.ports.length)
        .map(f => f.id)
    })
    await expect.poll(() => page.locator('[data-measure-ladder]').isDisabled()).toBe(true)
    await expect.poll(() => page.locator('[data-ladder]').innerText()).toContain('insert the loop on a channel first')
    await apply(page, 'addSlot', { id: 'insert', channel: 'kora', processor: 'loop', loop: loop.id, order: 'zz' })
    await apply(page, 'setChannels', { ids: ['kora'], fields: { muted: false } })
    await expect.poll(() => page.locator('[data-measure-ladder]').isDisabled()).toBe(false)
    await saved(page)
  })

  it('a unit that is off is said with its fix, in the loop and in the checks', async () => {
    await page.locator('[data-unit=tube] .power').click()
    await saved(page)
    await page.click('[data-ping]')
    await expect.poll(() => page.locator('[data-loop] [role=alert]').innerText()).toContain('Tube amplifier is off')
    await page.locator('[data-checks]').click()
    await page.getByRole('button', { name: 'Switch Tube amplifier on' }).click()
    await saved(page)
    expect((await session()).unit.tube!.powered).toBe(true)
  })

  it('a unit carries notes, says its figures, and leaves the room with its cables', async () => {
    await page.locator('[data-unit=valve] .unithead').click()
    await expect.poll(() => page.locator('[data-figures]').innerText()).toContain('distortion 0.38 %')
    await page.getByLabel('notes of Valve compressor').fill('threshold at noon, both sides')
    await page.getByLabel('notes of Valve compressor').blur()
    await saved(page)
    expect((await session()).unit.valve!.notes).toBe('threshold at noon, both sides')
    // Any picture will do: the drawing itself.
    const picture = await page.screenshot({ clip: { x: 0, y: 60, width: 400, height: 300 } })
    await page.setInputFiles('[data-photo-file]', [
      { name: 'front.png', mimeType: 'image/png', buffer: picture },
      { name: 'words.png', mimeType: 'image/png', buffer: Buffer.from('no picture') }
    ])
    await page.getByText('“words.png” is no picture that this browser reads. It was left out.').waitFor()
    const shown = page.locator('[data-photos] figure')
    await expect.poll(() => shown.count()).toBe(1)
    await expect
      .poll(() =>
        shown
          .locator('img')
          .evaluate(i => [(i as HTMLImageElement).naturalWidth, (i as HTMLImageElement).naturalHeight])
      )
      .toEqual([400, 300])
    await shown.getByText('what it shows…').click()
    await answer(page, 'threshold and ratio')
    await saved(page)
    expect((await session()).unit.valve!.photos.map(p => p.about)).toEqual(['threshold and ratio'])
    await shown.locator('.el-image').click()
    await page.locator('.el-image-viewer__img').waitFor()
    await page.keyboard.press('Escape')
    await page.locator('.el-image-viewer__img').waitFor({ state: 'detached' })
    await shown.getByLabel('take photograph 1').click()
    await shown.waitFor({ state: 'detached' })
    await page.locator('.notice').last().getByText('Undo').click()
    await shown.waitFor()
    await saved(page)
    await page.click('[data-remove-unit]')
    await saved(page)
    expect(rows(await session(), 'cable').some(c => c.fromUnit === 'valve' || c.toUnit === 'valve')).toBe(false)
    await page.keyboard.press('Control+z')
    await saved(page)
    expect((await session()).unit.valve!.notes).toBe('threshold at noon, both sides')
  })
})

describe('the rig library', () => {
  it('keeps a room, tells where the session has drifted from it, and makes either as the other is', async () => {
    await page.locator('[data-rig-library]:visible').first().click()
    await page.locator('[data-rig="Loft desk"]').getByText('keep in the library…').click()
    await answer(page, 'House loft')
    const line = page.locator('[data-rig="Loft desk"]')
    await expect.poll(() => line.innerText()).toContain('as “House loft” is')
    await page.keyboard.press('Escape')
    await apply(page, 'setUnit', { id: 'tube', fields: { settings: { driveDb: 33 } } })
    await apply(page, 'setPort', { id: 'loft-io-out-1', fields: { name: 'Left ear' } })
    await saved(page)
    await page.locator('[data-rig-library]:visible').first().click()
    await expect.poll(() => line.innerText()).toContain('2 rows differ from “House loft”')
    await line.locator('.says').click()
    expect(await page.locator('[data-sheet] ul').innerText()).toMatch(
      /Tube amplifier[\s\S]*Left ear|Left ear[\s\S]*Tube amplifier/
    )
    await line.getByRole('button', { name: 'Take over' }).click()
    await saved(page)
    expect((await session()).unit.tube!.settings.driveDb).not.toBe(33)
    await page.locator('.notice').last().getByText('Undo').click()
    await saved(page)
    expect((await session()).unit.tube!.settings.driveDb).toBe(33)
    await line.getByRole('button', { name: 'Write back' }).click()
    await expect.poll(() => line.innerText()).toContain('as “House loft” is')
    const kept = (await (await fetch(`${url}/api/rigs`)).json()) as { id: string; name: string }[]
    const { id } = kept.find(k => k.name === 'House loft')!
    expect(JSON.stringify(await (await fetch(`${url}/api/rigs/${id}`)).json())).toContain('Left ear')
  })

  it('copies a room into a session that has none', async () => {
    await makeSession(url, 'roomless')
    await page.goto(`${url}/s/roomless/rig`)
    await page.locator('[data-empty] [data-rig-library]').click()
    await page.locator('[data-entry="House loft"]').getByRole('button', { name: 'Copy in' }).click()
    await page.waitForSelector('.rigview')
    await saved(page)
    const made = await readSession(url, 'roomless')
    expect(rows(made, 'unit').map(u => u.name)).toContain('Valve compressor')
    expect(made.session.session!.rig).toBe(rows(made, 'rig')[0]!.id)
    await page.goto(`${url}/s/room/rig`)
    await page.waitForSelector('.rigview')
  })
})

describe('a change of rig', () => {
  it('shows what would move and that the stems stay the same, and only the ports change', async () => {
    await page.getByText('outputs', { exact: true }).click()
    await choose(page, 'ports of Stem Plucked in Loft desk', 'Left ear, Loft out 2')
    await choose(page, 'ports of Stem Choir in Loft desk', 'Loft out 7, Loft out 8')
    await saved(page)
    expect(await page.locator('[data-port="Loft out 7"]').innerText()).toContain('Stem Choir')
    await page.getByText('Dome control room', { exact: true }).first().click()
    await expect
      .poll(() => page.locator('[data-change-of-rig]').innerText())
      .toContain('“Stem Choir”: Loft out 7, Loft out 8 → no ports')
    await page.locator('[data-take-over]').first().click()
    await saved(page)
    const change = page.locator('[data-change-of-rig]')
    await expect
      .poll(() => change.innerText())
      .toContain('“Stem Plucked”: Left ear, Loft out 2 → Dome out 1, Dome out 2')
    expect(await page.locator('[data-proof]').innerText()).toMatch(/^6 stems: the same to the bit/)
    const before = await session()
    await page.click('[data-work-here]')
    await saved(page)
    const after = await session()
    expect(after).toEqual({ ...before, session: { session: { ...before.session.session!, rig: 'dome' } } })
    expect(rows(after, 'feed').filter(f => f.kind === 'port')).toHaveLength(4)
    expect(complaints).toEqual([])
  })
})

describe('an analog sum', () => {
  it('its cables are one bundle that opens, and one that turns polarity is said by the ping', async () => {
    await page.getByText('drawing', { exact: true }).click()
    const bundle = page.getByRole('button', { name: '16 cables from Dome interface to Summing unit' })
    await bundle.click()
    expect(await bundle.getAttribute('aria-expanded')).toBe('true')
    await bundle.click()
    await page.getByRole('button', { name: /^cable Dome out 1 → Summing unit In 1;/ }).press('Enter')
    await page.locator('[data-cable-panel]').getByText('turns polarity').click()
    const turned = async () =>
      rows(await session(), 'cable')
        .filter(c => c.inverts)
        .map(c => [c.fromPort, c.toJack])
    await expect.poll(turned).toEqual([['dome-io-out-1', 0]])
    await apply(page, 'setLoop', {
      id: 'dome-pair',
      rig: 'dome',
      fields: {
        name: 'Dome pair',
        order: 'a9',
        outPorts: ['dome-io-out-1', 'dome-io-out-2'],
        inPorts: ['dome-io-in-1', 'dome-io-in-2']
      }
    })
    const panel = page.locator('[data-loop="dome-pair"]')
    await panel.getByRole('button', { name: 'Ping', exact: true }).click()
    await expect.poll(() => panel.innerText()).toContain('its sides differ in polarity: Dome out 1 → Dome in 1 turned')
    await apply(page, 'removeLoop', { id: 'dome-pair' })
    await page.locator('[data-cable-panel]').getByText('turns polarity').click()
    await expect.poll(turned).toEqual([])
  })

  it('is read from stem to converter to unit to its track, and printed through the converters', async () => {
    await apply(page, 'createChannels', {
      channels: [{ id: 'sum', name: 'Dome sum', order: 'zz', feedId: 'sum-main' }],
      role: 'track',
      layout: ['L', 'R']
    })
    await apply(page, 'setChannels', { ids: ['sum'], fields: { ready: true, listen: 'feed' } })
    await apply(page, 'addPortFeed', {
      feedId: 'sum-in',
      channel: 'sum',
      ports: ['dome-io-in-1', 'dome-io-in-2'],
      direction: 'in'
    })
    await saved(page)
    await apply(page, 'setSession', { heardChannel: 'sum' })
    await saved(page)
    await keys(page, 'v n')
    await pick(page, 'stem-plucked')
    const stages = () => page.locator('[data-stage]').evaluateAll(all => all.map(e => (e as HTMLElement).dataset.stage))
    await expect.poll(stages).toEqual(['stem-plucked', 'dome-io-out-1', 'summing', 'dome-io-in-1', 'sum'])
    await pick(page, 'sum')
    await keys(page, 'p r')
    await page.fill('[aria-label="name of the print of Dome sum"]', 'Dome sum print')
    await page.click('[data-run]')
    const print = page.locator('[data-print]', { hasText: 'Dome sum print' })
    await expect
      .poll(() => print.locator('[data-residual]').innerText(), { timeout: 60_000 })
      .toBe('identical to the live path: −∞')
    expect(complaints).toEqual([])
  })
})

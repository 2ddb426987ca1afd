// Takes: files that are takes of one source, a bus that is printed again, compared and heard while the mix plays.
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { rows, takesOf, type Session } from '@nullet/core/session/session'
import { whiteNoise } from '@nullet/core/testing/sound'
import { wav } from '../server/testing'
import { closeBrowser, openPage } from './support/browser'
import { answer, apply, choose, keys, makeSession, pick, readSession, saved } from './support/hands'

const { url } = inject('stage')
const id = `takes-${process.pid}`
const RATE = 44_100
let page: Page, complaints: string[]

beforeAll(async () => {
  await makeSession(url, id, RATE)
  ;({ page, complaints } = await openPage(`${url}/s/${id}/sources`))
  await page.waitForSelector('input[data-audio]', { state: 'attached' })
})
afterAll(closeBrowser)

const session = () => readSession(url, id)
const named = (s: Session, name: string) => rows(s, 'channel').find(c => c.name === name)!
const file = (name: string, seed: number, level: number) => ({
  name,
  mimeType: 'audio/wav',
  buffer: Buffer.from(wav([whiteNoise(RATE * 2, seed, level)], 24, RATE))
})

describe('files that are takes of one source', () => {
  it('are offered, become takes of the first, and are taken apart by one undo', async () => {
    await page.setInputFiles('input[data-audio]', [
      file('Narrator take 1.wav', 1, 0.1),
      file('Narrator take 2.wav', 2, 0.2),
      file('Narrator take 10.wav', 3, 0.05),
      file('Lake.wav', 4, 0.1)
    ])
    await page.getByText('4 files became tracks').waitFor()
    await keys(page, 'Escape')
    await page.click('[data-stacks]')
    const line = page.locator('[data-stack="Narrator"]')
    expect(await line.innerText()).toContain('Narrator take 1, Narrator take 2, Narrator take 10')
    await page.getByRole('button', { name: 'Stack 1 track' }).click()
    await page.getByText('“Narrator” has 3 takes.').waitFor()
    await saved(page)
    const s = await session()
    expect(
      rows(s, 'channel')
        .filter(c => c.kind === 'track')
        .map(c => c.name)
        .sort()
    ).toEqual(['Lake', 'Narrator'])
    expect(takesOf(s, named(s, 'Narrator').id).map(t => t.name)).toEqual(['Take 1', 'Take 2', 'Take 10'])
    await page.locator('.notice').last().getByText('Undo').click()
    await saved(page)
    expect(rows(await session(), 'take')).toEqual([])
    await page.click('[data-stacks]')
    await page.getByRole('button', { name: 'Stack 1 track' }).click()
    await saved(page)
  })

  it('are gone through by keys, named, rated and removed', async () => {
    const narrator = named(await session(), 'Narrator').id
    const heard = async () => {
      await saved(page)
      const s = await session()
      return s.take[s.channel[narrator]!.take!]!.name
    }
    expect(await heard()).toBe('Take 1')
    await keys(page, 'v n')
    await pick(page, narrator)
    await keys(page, 't n')
    expect(await heard()).toBe('Take 2')
    await keys(page, 't b t b')
    expect(await heard()).toBe('Take 10')
    await keys(page, 'v p')
    const table = page.locator(`[data-takes="${narrator}"]`)
    await table.getByLabel('name of Take 2').fill('The calm one')
    await table.getByLabel('name of Take 2').press('Enter')
    await table.getByLabel('hear The calm one').check()
    expect(await heard()).toBe('The calm one')
    await choose(page, 'worth of The calm one', 'best')
    await table.getByLabel('remove Take 10').click()
    await saved(page)
    const s = await session()
    expect(takesOf(s, narrator).map(t => [t.name, t.rating])).toEqual([
      ['Take 1', 'unrated'],
      ['The calm one', 'best']
    ])
  })

  it('are cropped to whole bars and repeated, and whole again', async () => {
    const narrator = named(await session(), 'Narrator').id
    const table = page.locator(`[data-takes="${narrator}"]`)
    const played = async () => {
      await saved(page)
      const s = await session()
      return rows(s, 'clip')
        .filter(c => c.channel === narrator && c.take === s.channel[narrator]!.take)
        .sort((a, b) => a.startFrame - b.startFrame)
        .map(c => [c.startFrame, c.frames])
    }
    // Two bars of four beats at 240 bpm are two seconds: the second half of bar two is cut off by the mark.
    await apply(page, 'setSession', { tempo: [[0, 240]] })
    await apply(page, 'cropClips', {
      ids: rows(await session(), 'clip')
        .filter(c => c.channel === narrator)
        .map(c => c.id),
      from: 0,
      to: RATE * 1.5
    })
    await table.locator('[data-crop-bars]').click()
    expect(await played()).toEqual([[0, RATE]])
    await table.locator('[data-repeat-clip]').click()
    await answer(page, '3')
    expect(await played()).toEqual([0, 1, 2].map(n => [n * RATE, RATE]))
    await page.keyboard.press('Control+z')
    await table.locator('[data-whole]').click()
    expect(await played()).toEqual([[0, null]])
  })

  it('are put together: the marked range of one in the other, as a third', async () => {
    const narrator = named(await session(), 'Narrator').id
    const table = page.locator(`[data-takes="${narrator}"]`)
    await page.evaluate(
      rate =>
        (
          document.querySelector('#__nuxt')!.__vue_app__.config.globalProperties.$pinia._s.get('transport') as {
            setRepeat(range: object): void
          }
        ).setRepeat({ from: rate / 2, to: rate }),
      RATE
    )
    await table.getByLabel('the marked range of Take 1 into the take that is heard').click()
    await page.getByText('“The calm one with Take 1” is heard: the marked range is that of “Take 1”.').waitFor()
    await saved(page)
    const s = await session()
    const made = takesOf(s, narrator).find(t => t.name === 'The calm one with Take 1')!
    expect(s.channel[narrator]!.take).toBe(made.id)
    const seam = RATE / 100
    const clips = rows(s, 'clip').filter(c => c.take === made.id)
    expect(
      clips
        .sort((a, b) => a.startFrame - b.startFrame)
        .map(c => [c.startFrame, c.frames, c.fadeInFrames, c.fadeOutFrames])
    ).toEqual([
      [0, RATE / 2 + seam, 0, seam],
      [RATE / 2, RATE / 2, seam, seam],
      [RATE - seam, RATE + seam, seam, 0]
    ])
    await page.locator('.notice').last().getByText('Undo').click()
    await saved(page)
    expect(takesOf(await session(), narrator)).toHaveLength(2)
  })

  it('are compared at equal loudness, blind, and what is kept is one step', async () => {
    const narrator = named(await session(), 'Narrator').id
    const table = page.locator(`[data-takes="${narrator}"]`)
    await table.locator('[data-compare-takes]').click()
    await table.locator('[data-levels]').waitFor()
    const levels = (await table.locator('[data-levels]').innerText())
      .match(/−\d+\.\d/g)!
      .map(t => Number(t.replace('−', '-')))
    // Beside the lake, noise of 0.1: (0.2² + 0.1²) against (0.1² + 0.1²).
    expect(Math.abs(levels[1]! - levels[0]! - 10 * Math.log10(0.05 / 0.02))).toBeLessThan(1)
    // Noises that have nothing in common: of one take beside the lake, both are left.
    expect(await table.locator('[data-apart]').innerText()).toMatch(/^[−+]?\d+\.\d dB from Take/)
    await table.locator('[data-blind]').click()
    await expect.poll(() => table.locator('[data-side]').allInnerTexts()).toEqual(['one', 'two'])
    expect(await table.locator('table').count()).toBe(0)
    await table.locator('[data-side=one]').click()
    await table.locator('[data-side=two]').click()
    await table.locator('[data-end-compare]').click()
    await page.locator('.notice', { hasText: /“One” was .*“two” was / }).waitFor()
    await saved(page)
  })
})

describe('stems', () => {
  it('are printed with their share of the returns, and add up to the main; what bends them is named', async () => {
    const s = await session()
    const main = rows(s, 'channel').find(c => c.role === 'main')!.id
    const step = (verb: string, args: unknown) => apply(page, verb, args)
    await step('createBus', { id: 'hall', name: 'Hall', role: 'return', order: 'h', to: main, feedId: 'hall-main' })
    await step('addSlot', {
      id: 'hall-reverb',
      channel: 'hall',
      processor: 'reverb',
      params: { decayS: 0.3 },
      order: 'a'
    })
    for (const name of ['Narrator', 'Lake']) {
      const id = `stem-${name}`,
        track = named(s, name).id
      await step('createBus', {
        id,
        name: `Stem ${name}`,
        role: 'stem',
        order: `s${name}`,
        to: main,
        feedId: `f-${name}`
      })
      await step('setMainFeed', { ids: [track], to: id, feedIds: [`g-${name}`] })
      await step('addSend', { ids: [track], to: 'hall', feedIds: [`h-${name}`], levelDb: -12 })
    }
    await saved(page)
    await page.click('[data-add-stems]')
    expect(await page.locator('.plan').innerText()).toContain('Stem Lake’s share of Main')
    await page.click('[data-run]')
    await expect.poll(async () => rows(await session(), 'print').length, { timeout: 60_000 }).toBe(2)
    const proof = page.locator('[data-proof]')
    await proof.locator('[data-prove]').click()
    await proof.locator('[data-proven]').waitFor()
    expect(await proof.locator('[data-proven]').innerText()).toMatch(
      /They add up to Main: −1[2-9]\d\.\d dB of the mix is left/
    )
    await step('addSlot', { id: 'bend', channel: main, processor: 'saturation', params: { driveDb: 20 }, order: 'z' })
    await proof.locator('[data-prove]').click()
    await expect.poll(() => proof.innerText()).toContain('They do not add up to Main')
    expect(await proof.innerText()).toContain('Saturation on “Main” reacts to the sum of several stems')
    // What was proven is kept with the prints.
    await saved(page)
    await page.reload()
    await proof.locator('[data-proven]').waitFor()
    expect(await proof.innerText()).toContain('They do not add up to Main')
    expect(await proof.innerText()).toContain('Saturation on “Main” reacts to the sum of several stems')
    // All of it goes again: the next stories begin with two tracks.
    for (let i = 0; i < 12 && rows(await session(), 'channel').some(c => c.role === 'stem'); i++) {
      await page.keyboard.press('Control+z')
      await saved(page)
    }
    expect(rows(await session(), 'print')).toEqual([])
  })
})

describe('a bus that is printed again', () => {
  it('is another take of the track that holds the first print, and is heard', async () => {
    const before = await session()
    await keys(page, 'v n')
    await pick(page, named(before, 'Narrator').id)
    await pick(page, named(before, 'Lake').id, 'Control')
    await keys(page, 'n s')
    await answer(page, 'Voices')
    await saved(page)
    const voices = named(await session(), 'Voices').id
    const print = async (n: number) => {
      await page.click('[data-run]')
      await expect.poll(async () => rows(await session(), 'print').length, { timeout: 60_000 }).toBe(n)
    }
    await pick(page, voices)
    await keys(page, 'p r')
    await print(1)
    const track = rows(await session(), 'print')[0]!.channel
    await keys(page, 'v n')
    await pick(page, named(await session(), 'Lake').id)
    await keys(page, 'l b')
    await answer(page, '-6')
    await saved(page)
    await keys(page, 'v p')
    await page.locator('[data-print-again]').click()
    expect(await page.locator('.plan').innerText()).toContain('new take of Voices print')
    await print(2)
    const s = await session()
    expect(takesOf(s, track).map(t => t.name)).toEqual(['Take 1', 'Take 2'])
    expect(s.take[s.channel[track]!.take!]!.name).toBe('Take 2')
    expect(rows(s, 'print').map(p => [p.channel, p.verified])).toEqual([
      [track, 'identical'],
      [track, 'identical']
    ])
    const table = page.locator(`[data-takes="${track}"]`)
    await expect.poll(() => table.locator('[data-take]').count()).toBe(2)
    // The first one was made with the lake 6 dB louder.
    expect(await table.locator('[data-take]').first().innerText()).toContain('stale')
    expect(await table.locator('[data-take]').last().innerText()).not.toContain('stale')
  })

  it('is compared with the live path; one undo takes the second print back', async () => {
    const track = rows(await session(), 'print')[0]!.channel
    const table = page.locator(`[data-takes="${track}"]`)
    await table.locator('[data-compare-takes]').click()
    await table.locator('[data-levels]').waitFor()
    expect(await table.locator('[data-side]').allInnerTexts()).toEqual(['Take 1', 'Take 2', 'Voices, live'])
    await table.locator('[data-side=three]').click()
    await saved(page)
    expect((await session()).channel[track]!.listen).toBe('feed')
    await table.locator('[data-side=two]').click()
    await table.locator('[data-end-compare]').click()
    await saved(page)
    expect((await session()).channel[track]).toMatchObject({ listen: 'print' })
    await page.keyboard.press('Control+z')
    await saved(page)
    expect(takesOf(await session(), track)).toEqual([])
    expect(rows(await session(), 'print')).toHaveLength(1)
    expect(complaints).toEqual([])
  })
})

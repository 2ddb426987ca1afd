// Movement in the browser: drawn over the waveform, edited, ridden while it plays, heard as it is rendered, copied.
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { compile } from '@nullet/core/compile/compile'
import { PlanStream, renderWhole } from '@nullet/core/run/stream'
import { valueAt } from '@nullet/core/movement/envelope'
import { rows, settings } from '@nullet/core/session/session'
import { connectStore, type Sql } from '../server/store/connect'
import { DatabaseMedia } from '../server/store/mediaReader'
import { loadDemo } from '../demo/load'
import { levelShare } from '../app/numbers/levelScale'
import { closeBrowser, openPage } from './support/browser'
import { answer, apply, keys, pick, readSession, saved } from './support/hands'
import { capture, heardFor, heardIn, inPage, play, stop, WHERE_IT_RAN_DRY } from './support/sound'

const { url, database } = inject('stage')
const RATE = 48000
let page: Page, complaints: string[], sql: Sql

beforeAll(async () => {
  sql = connectStore(database, 4)
  await loadDemo(sql, 8, 'moves')
  ;({ page, complaints } = await openPage(`${url}/s/moves/network`))
  await page.waitForSelector('[data-channel=kora]')
})
afterAll(async () => {
  await sql.end()
  await closeBrowser()
})

const lane = (channel: string) => page.locator(`[data-movement="${channel}"] [data-lane]`)
/** Presses at shares of the lane's width and height. */
async function press(channel: string, x: number, y: number): Promise<void> {
  const box = (await lane(channel).boundingBox())!
  await page.mouse.click(box.x + box.width * x, box.y + box.height * y)
}
const envelope = async (row: string, field = 'levelDb') => {
  await saved(page)
  return rows(await readSession(url, 'moves'), 'envelope').find(
    e => (e.channel ?? e.feed ?? e.slot) === row && e.field === field
  )
}

describe('drawn over the waveform', () => {
  it('the selection is laid over time, and presses add points where they are', async () => {
    await pick(page, 'kora')
    await keys(page, 'm o')
    await lane('kora').waitFor()
    await press('kora', 0.25, 0.2)
    await press('kora', 0.75, 0.7)
    const { points } = (await envelope('kora'))!
    const length = await inPage(page, async t => t.length, null)
    expect(points).toHaveLength(2)
    expect(points[0]![0] / length).toBeCloseTo(0.25, 2)
    expect(points[1]![0] / length).toBeCloseTo(0.75, 2)
    expect(points[0]![1]!).toBeGreaterThan(points[1]![1]!)
  })

  it('a point is dragged, moved by arrows, typed, taken out; every step is undone', async () => {
    const before = (await envelope('kora'))!.points
    const point = page.locator('[data-movement=kora] [data-point]').first()
    const box = (await point.boundingBox())!
    await page.mouse.move(box.x + 4, box.y + 4)
    await page.mouse.down()
    await page.mouse.move(box.x + 44, box.y + 24, { steps: 4 })
    await page.mouse.up()
    const dragged = (await envelope('kora'))!.points
    expect(dragged[0]![0]).toBeGreaterThan(before[0]![0])
    expect(dragged[0]![1]!).toBeLessThan(before[0]![1]!)
    await point.focus()
    await page.keyboard.press('ArrowUp')
    await page.keyboard.press('ArrowRight')
    const moved = (await envelope('kora'))!.points
    expect(moved[0]).toEqual([dragged[0]![0] + RATE / 100, dragged[0]![1]! + 0.5])
    await point.focus()
    await page.keyboard.press('Enter')
    await answer(page, '-inf')
    expect((await envelope('kora'))!.points[0]![1]).toBeNull()
    await point.focus()
    await page.keyboard.press('Delete')
    expect((await envelope('kora'))!.points).toEqual([moved[1]])
    for (let i = 0; i < 5; i++) await page.keyboard.press('Control+z')
    expect((await envelope('kora'))!.points).toEqual(before)
  })

  it('a line that is drawn freehand is kept in few points', async () => {
    await page.getByText('draw', { exact: true }).click()
    const box = (await lane('kora').boundingBox())!
    await page.mouse.move(box.x + box.width * 0.3, box.y + 30)
    await page.mouse.down()
    await page.mouse.move(box.x + box.width * 0.5, box.y + 60, { steps: 40 })
    await page.mouse.move(box.x + box.width * 0.6, box.y + 40, { steps: 40 })
    await page.mouse.up()
    const { points } = (await envelope('kora'))!
    expect(points.length).toBeGreaterThan(4)
    expect(points.length).toBeLessThan(40)
    await page.getByText('points', { exact: true }).click()
  })

  it('another field of the channel is looked at: its pan, a send, a slot’s setting', async () => {
    await page.locator('[data-movement=kora] .el-select').click()
    await page.getByRole('option', { name: /Send to Dome hall: Level ride/ }).click()
    await press('kora', 0.5, 0.5)
    const send = rows(await readSession(url, 'moves'), 'feed').find(f => f.from === 'kora' && f.to === 'dome-hall')!
    expect((await envelope(send.id))!.points).toHaveLength(1)
    await page.keyboard.press('Control+z')
    await saved(page)
  })

  it('a bus gets its rendered waveform', async () => {
    await page.locator('[data-movement=winds] [data-outline]').click()
    await page.locator('[data-movement=winds] .whole canvas').waitFor()
    const inked = await page.locator('[data-movement=winds] .whole canvas').evaluate((c: HTMLCanvasElement) =>
      c
        .getContext('2d')!
        .getImageData(0, 0, c.width, c.height)
        .data.some(v => v > 0)
    )
    expect(inked).toBe(true)
  })

  it('time is looked at more closely and as a whole again', async () => {
    const readSpan = () => page.locator('.zoom .num').textContent()
    const whole = await readSpan()
    await page.getByRole('button', { name: 'look closer' }).click()
    expect(await readSpan()).not.toBe(whole)
    await page.locator('.zoom').getByText('all').click()
    expect(await readSpan()).toBe(whole)
  })
})

describe('ridden', { retry: 2 }, () => {
  it('what a hand does to a fader while it plays is written at the frames that were heard, and undone as one', async () => {
    await keys(page, 'v n')
    await page.waitForSelector('[data-channel]')
    await pick(page, 'narrator')
    // What an earlier try left behind.
    const earlier = await envelope('narrator')
    if (earlier) await apply(page, 'removeEnvelopes', { ids: [earlier.id] })
    await keys(page, 'r i')
    await play(page)
    // Where the sound is at each press and release, as the page sees it.
    await inPage(
      page,
      async t => {
        for (const kind of ['pointerdown', 'pointerup'])
          addEventListener(kind, () => (document.body.dataset[kind] = String(t.position)), { capture: true })
      },
      null
    )
    const heardAt = async (kind: string) => Number(await page.evaluate(k => document.body.dataset[k], kind))
    const past = (text: string) =>
      page.waitForFunction(t => document.querySelector('[data-position]')!.textContent! > t, text)
    await past('0:00.500')
    const bar = (await page.locator('[data-channel="narrator"] .bar').boundingBox())!
    const base = (await readSession(url, 'moves')).channel.narrator.levelDb!
    const start = bar.x + levelShare(base) * bar.width
    await page.mouse.move(start, bar.y + 6)
    await page.mouse.down()
    const from = await heardAt('pointerdown')
    await page.mouse.move(start - 34, bar.y + 6, { steps: 6 })
    await past('0:01.500')
    await page.mouse.move(start - 64, bar.y + 6, { steps: 6 })
    await past('0:02.200')
    await page.mouse.up()
    const to = await heardAt('pointerup')
    await inPage(page, async t => t.stop(), null)
    await keys(page, 'r i')
    const { points } = (await envelope('narrator'))!
    expect(points[0]).toEqual([0, 0])
    const written = points.filter(p => p[1]! < -0.5)
    expect(written[0]![0]).toBeGreaterThan(from - RATE / 4)
    expect(written.at(-1)![0]).toBeLessThan(to + RATE / 4)
    expect(points.length).toBeLessThan(80)
    // Lower while it was held, back where it was within a tenth of a second.
    expect(Math.min(...points.map(p => p[1]!))).toBeLessThan(valueAt(points, RATE * 1.4, 'db'))
    expect(valueAt(points, to + RATE / 2, 'db')).toBeCloseTo(0, 6)
    expect((await readSession(url, 'moves')).channel.narrator.levelDb).toBe(base)
    await page.keyboard.press('Control+z')
    expect(await envelope('narrator')).toBeUndefined()
    await page.keyboard.press('Control+Shift+z')
    expect((await envelope('narrator'))!.points).toEqual(points)
  })

  it('a slot’s setting is ridden in the rail, which then says that it follows', async () => {
    await pick(page, 'narrator')
    await keys(page, 'Enter')
    await page.locator('.rail .slot').first().click()
    await keys(page, 'r i')
    await play(page)
    await heardFor(page, RATE * 0.3)
    const way = page.getByRole('spinbutton', { name: 'mix' }).locator('.way')
    const box = (await way.boundingBox())!
    await page.mouse.move(box.x + box.width - 2, box.y + box.height / 2)
    await page.mouse.down()
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2, { steps: 8 })
    await page.mouse.up()
    await stop(page)
    await keys(page, 'r i')
    const slot = rows(await readSession(url, 'moves'), 'slot').find(s => s.channel === 'narrator')!
    const made = (await envelope(slot.id, 'mix'))!
    expect(Math.min(...made.points.map(p => p[1]!))).toBeLessThan(0.9)
    await keys(page, 'Escape Escape')
  })
})

describe('heard and copied', WHERE_IT_RAN_DRY, () => {
  it('what plays with all this movement equals the offline render', async () => {
    const session = await readSession(url, 'moves')
    expect(rows(session, 'envelope').length).toBeGreaterThan(4)
    await play(page, 12000)
    await heardFor(page, RATE * 0.35)
    const out = await capture(page, RATE)
    const latency = await inPage(
      page,
      async t => {
        t.stop()
        return t.info.latency
      },
      null
    )
    const plan = compile(session, {
      taps: [],
      live: true,
      heard: { channel: settings(session).heardChannel!, latency }
    })
    const render = (
      await renderWhole(new PlanStream(plan, session, await DatabaseMedia.of(sql, session)), {
        from: 0,
        frames: RATE * 5
      })
    ).get('ears')!
    expect(heardIn(out, render)).toBeGreaterThan(0)
  })

  it('movement goes onto other channels, and what has nothing to answer to is said', async () => {
    await pick(page, 'kora')
    await pick(page, 'shakers', 'Control')
    await keys(page, 'm c')
    await page.getByText(/Movement of Kora DI copied onto Shakers/).waitFor()
    expect((await envelope('shakers'))!.points).toEqual((await envelope('kora'))!.points)
  })

  it('nothing was complained about', () => {
    expect(complaints).toEqual([])
  })
})

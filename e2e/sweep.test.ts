// A hand on a fader and on an equaliser while a tone plays, in the real page: what reaches the output is free of
// products.
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { besideDb } from '@nullet/core/testing/sound'
import { wav } from '../server/testing'
import { closeBrowser, openPage } from './support/browser'
import { apply, makeSession, saved } from './support/hands'
import { capture, heardFor, play, stop, WHERE_IT_RAN_DRY, withoutGaps } from './support/sound'

const { url } = inject('stage')
const RATE = 48000
let page: Page

beforeAll(async () => {
  await makeSession(url, 'sweep')
  const tone = Float32Array.from({ length: RATE * 6 }, (_, n) => 0.25 * Math.sin((2 * Math.PI * 1000 * n) / RATE))
  const made = await fetch(`${url}/api/sessions/sweep/tracks?id=tone&file=Tone.wav&to=main&gesture=x/1&client=x`, {
    method: 'POST',
    body: new Uint8Array(wav([tone], '32f'))
  })
  expect(made.ok).toBe(true)
  ;({ page } = await openPage(`${url}/s/sweep/network`))
  await page.waitForSelector('[data-channel=tone]')
})
afterAll(closeBrowser)

/** Moves by 6 dB in 100 ms, frame by frame as a hand does. */
const sweep = (table: string, id: string, field: 'levelDb' | 'db1') =>
  page.evaluate(
    ([t, rowId, f]) =>
      new Promise<void>(done => {
        const store = document
          .querySelector('#__nuxt')!
          .__vue_app__.config.globalProperties.$pinia._s.get('session') as {
          preview(t: string, ids: string[], fields: (row: Record<string, unknown>) => object): void
        }
        const begin = performance.now()
        const step = () => {
          const db = -6 * Math.min(1, (performance.now() - begin) / 100)
          store.preview(t!, [rowId!], row =>
            f === 'db1' ? { params: { ...(row.params as object), db1: db } } : { levelDb: db }
          )
          if (db > -6) requestAnimationFrame(step)
          else done()
        }
        step()
      }),
    [table, id, field] as const
  )

describe('6 dB in 100 ms by hand', WHERE_IT_RAN_DRY, () => {
  it.each([
    ['a fader', 'channel', 'tone', 'levelDb'],
    ['the gain of a bell', 'slot', 'bell', 'db1']
  ] as const)('%s leaves nothing beyond ±100 Hz above −80 dB', async (_, table, id, field) => {
    if (table === 'slot') {
      await apply(page, 'addSlot', {
        id: 'bell',
        channel: 'tone',
        processor: 'equaliser',
        params: { kind1: 'bell', hz1: 1000, q1: 1, db1: 0 },
        order: 'a0'
      })
      await saved(page)
    }
    await play(page)
    await heardFor(page, RATE * 0.4)
    const wanted = capture(page, RATE * 1.2)
    await heardFor(page, RATE * 0.3)
    await sweep(table, id, field)
    const heard = await wanted
    await stop(page)
    const [left] = withoutGaps(heard)
    const level = (at: number) => 10 * Math.log10(left!.subarray(at, at + 4800).reduce((s, v) => s + v * v, 0) / 4800)
    expect(level(0) - level(RATE * 1.2 - 4800)).toBeCloseTo(6, 0)
    // Where the sweep lies in the capture: half way down.
    let middle = 0
    while (level(middle) > level(0) - 3) middle += 480
    expect(besideDb(left!.subarray(Math.max(0, middle - 16384), Math.max(0, middle - 16384) + 32768))).toBeLessThan(-80)
  })
})

// What reaches the output is what an offline render gives: after start, after seeks, on every meter, while things
// change.
import { createHash } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { compile } from '@nullet/core/compile/compile'
import type { CompileOptions } from '@nullet/core/compile/plan'
import { PlanStream, renderWhole } from '@nullet/core/run/stream'
import { rows, settings, type Session } from '@nullet/core/session/session'
import { interleave } from '../host/wavFile'
import { connectStore, type Sql } from '../server/store/connect'
import { DatabaseMedia } from '../server/store/mediaReader'
import { loadDemo } from '../demo/load'
import { closeBrowser, openPage } from './support/browser'
import { apply, deeds, saved, takeBackTo } from './support/hands'
import {
  capture as captureOf,
  heardFor,
  heardIn,
  inPage as inPageOf,
  play,
  stop,
  WHERE_IT_RAN_DRY,
  withoutGaps,
  type Transport
} from './support/sound'

const { url, database } = inject('stage')
const RATE = 48000
let page: Page, complaints: string[], sql: Sql, session: Session

beforeAll(async () => {
  sql = connectStore(database, 4)
  await loadDemo(sql, 8, 'live')
  ;({ page, complaints } = await openPage(`${url}/s/live/network`))
  await page.waitForSelector('[data-channel=kora]')
  session = ((await (await fetch(`${url}/api/sessions/live`)).json()) as { session: Session }).session
})
afterAll(async () => {
  await sql.end()
  await closeBrowser()
})

const inPage = <T, A>(act: (t: Transport, argument: A) => Promise<T>, argument: A): Promise<T> =>
  inPageOf(page, act, argument)

const offline = async (options: CompileOptions, frames: number, of = session) =>
  renderWhole(new PlanStream(compile(of, options), of, await DatabaseMedia.of(sql, of)), { from: 0, frames })

async function ears(frames: number, of = session): Promise<Float32Array[]> {
  const latency = await inPage(async t => t.info.latency, null)
  return (
    await offline({ taps: [], live: true, heard: { channel: settings(of).heardChannel!, latency } }, frames, of)
  ).get('ears')!
}

const capture = (frames: number) => captureOf(page, frames)

/** What is heard of a session a second long from a place on, where what is played began to run before it. */
async function playing(of: Session) {
  const latency = await inPage(async t => t.info.latency, null)
  const plan = compile(of, { taps: [], live: true, heard: { channel: settings(of).heardChannel!, latency } })
  const media = await DatabaseMedia.of(sql, of)
  return async (since: number, place: number) => {
    const stream = new PlanStream(plan, of, media),
      begin = Math.floor(place / 128) * 128,
      heard = [new Float32Array(RATE), new Float32Array(RATE)]
    stream.start(since)
    while (stream.machine.frame < begin + latency + 40_000) {
      const at = stream.machine.frame - begin
      await stream.block()
      if (at >= 0) stream.last('sink/ears').forEach((leg, k) => heard[k]!.set(leg, at))
    }
    return heard
  }
}

describe('the browser', WHERE_IT_RAN_DRY, () => {
  it('renders a tap with the same SHA-256 as this process', async () => {
    await inPage(async t => {
      await t.play(0)
      t.stop()
    }, null)
    const main = (await offline({ taps: [{ channel: 'main', tap: 'post' }] }, 48000)).get('main@post')!
    const { sha256 } = await inPage(async t => t.engine().render({ channel: 'main', tap: 'post' }, 0, 48000), null)
    expect(sha256).toBe(createHash('sha256').update(interleave(main)).digest('hex'))
  })

  it('puts out, from the click on play, exactly what an offline render gives', async () => {
    await inPage(async t => {
      t.stop()
      await t.seek(0)
    }, null)
    await page.click('[data-play]')
    await heardFor(page, RATE * 0.2)
    const out = await capture(RATE)
    const render = await ears(RATE * 4)
    expect(heardIn(out, render)).toBeGreaterThan(0)
  })

  it('does so after each of twenty seeks: what a render gives that begins where the run-in began', async () => {
    const plays = await playing(session)
    for (let i = 0; i < 20; i++) {
      const to = 4000 + ((i * 7919 * 37) % (RATE * 7))
      const since = await inPage(async (t, frame) => {
        await t.seek(frame)
        return t.engine().since!
      }, to)
      expect(since).toBeLessThanOrEqual(to)
      // The old sound fades out before the new one begins: what is looked at comes after both.
      const settled = 4096,
        out = await capture(9600)
      expect(heardIn(out, await plays(since, to), settled), `after the seek to ${to}`).toBeGreaterThanOrEqual(0)
    }
    await stop(page)
  })

  it('repeats a range without a gap, each turn like the one before', async () => {
    const range = { from: 2 * RATE + 11, to: 2 * RATE + 11 + 24_001 }
    try {
      await inPage(async (t, r) => {
        t.setRepeat(r)
        await t.seek(r.from)
        await t.play(r.from)
      }, range)
      // What rings of the turns before has to be there in full: eight seconds at most.
      const { legs, ...told } = await capture(24_001 * 22)
      const last = legs[0]!.length - 24_001
      const turn = legs.map(leg => leg.subarray(last - 24_001, last))
      expect(heardIn({ ...told, legs: legs.map(leg => leg.subarray(last)) }, turn)).toBe(0)
    } finally {
      await inPage(async t => {
        t.stop()
        t.setRepeat(null)
      }, null)
    }
  })

  it('shows on every meter the peak that an offline render of the same frames has, within 0.1 dB', async () => {
    await play(page)
    await page.waitForFunction(
      () =>
        !(
          document.querySelector('#__nuxt')!.__vue_app__.config.globalProperties.$pinia._s.get('transport') as Transport
        ).playing,
      undefined,
      { timeout: 150_000 }
    )
    const shown = new Map(await inPage(async t => [...t.highest], null))
    const taps = rows(session, 'channel').map(c => ({ channel: c.id, tap: 'post' as const }))
    const frames = RATE * 13
    const audio = await offline({ taps }, frames)
    let compared = 0
    for (const { channel } of taps) {
      let top = 0
      for (const leg of audio.get(`${channel}@post`)!) for (const x of leg) top = Math.max(top, Math.abs(x))
      if (top < 1e-4) continue
      expect(
        Math.abs(shown.get(`channel/${channel}`)! - 20 * Math.log10(top)),
        session.channel[channel].name
      ).toBeLessThan(0.1)
      compared++
    }
    expect(compared).toBeGreaterThan(30)
  })
})

describe('while playing', WHERE_IT_RAN_DRY, () => {
  const longestSilence = (x: Float32Array) => {
    let longest = 0,
      run = 0
    for (const v of x) {
      run = v === 0 ? run + 1 : 0
      longest = Math.max(longest, run)
    }
    return longest
  }
  const largestStep = (x: Float32Array) => {
    let top = 0
    for (let i = 1; i < x.length; i++) top = Math.max(top, Math.abs(x[i] - x[i - 1]))
    return top
  }

  /**
   * Plays, does something, and gives two seconds of what came out around it. Where the output ran dry meanwhile, what
   * was done is taken back and done once more.
   */
  async function while2s(act: () => Promise<unknown>): Promise<Float32Array[]> {
    const before = await deeds(page)
    for (let more = 2; ; more--) {
      await play(page, RATE)
      await heardFor(page, RATE * 0.2)
      const wanted = capture(RATE * 2)
      await act()
      const heard = await wanted
      await stop(page)
      if (!heard.gaps || !more) return withoutGaps(heard)
      await takeBackTo(page, before)
    }
  }

  it('levels, bypasses and feeds change without a gap and without a step that the sound itself does not have', async () => {
    const slot = rows(session, 'slot').find(s => s.channel === 'plucked' && s.processor === 'compressor')!
    const out = await while2s(async () => {
      await apply(page, 'setChannels', { ids: ['drum-low', 'drum-edge'], fields: { levelDb: -20 } })
      await apply(page, 'setSlot', { id: slot.id, fields: { state: 'bypassed' } })
      await apply(page, 'setMainFeed', { ids: ['shakers'], to: 'winds', feedIds: ['fx'] })
      await apply(page, 'addSlot', {
        id: 'late',
        channel: 'winds',
        processor: 'compressor',
        params: { lookAheadMs: 5 },
        order: 'Zz'
      })
      await apply(page, 'setChannels', { ids: ['choir'], fields: { muted: true } })
    })
    const render = await ears(RATE * 8)
    for (const [i, leg] of out.entries()) {
      expect(longestSilence(leg)).toBeLessThan(128)
      expect(largestStep(leg)).toBeLessThan(largestStep(render[i].subarray(0, RATE * 5)) * 1.5)
    }
  })

  const now = async () => ((await (await fetch(`${url}/api/sessions/live`)).json()) as { session: Session }).session

  it('a little later the sound is that of the session as it is then', async () => {
    const since = await inPage(async (t, at) => {
      await t.play(at)
      return t.engine().since!
    }, RATE * 2)
    const later = await capture(9600),
      wantedNow = await (await playing(await now()))(since, RATE * 2)
    expect(heardIn(later, wantedNow, 4096)).toBeGreaterThanOrEqual(0)
    await stop(page)
  })

  const largest = async () => (await ears(RATE * 5, await now())).map(largestStep)
  /** In each leg of the session as the change before left it. */
  let was: number[] | null = null
  const slotOn = async (channel: string, processor: string) =>
    rows(await now(), 'slot').find(s => s.channel === channel && s.processor === processor)!.id
  const changes: Record<string, () => Promise<unknown>> = {
    'a slot with latency comes in': () =>
      apply(page, 'addSlot', {
        id: 'ahead',
        channel: 'choir',
        processor: 'compressor',
        params: { lookAheadMs: 8 },
        order: 'Zy'
      }),
    'it is bypassed': () => apply(page, 'setSlot', { id: 'ahead', fields: { state: 'bypassed' } }),
    'it is off, its latency gone': () => apply(page, 'setSlot', { id: 'ahead', fields: { state: 'off' } }),
    'slots change places': async () =>
      apply(page, 'setSlot', { id: await slotOn('plucked', 'equaliser'), fields: { order: 'zz' } }),
    'a slot crosses the fader': async () =>
      apply(page, 'setSlot', { id: await slotOn('plucked', 'compressor'), fields: { afterFader: true } }),
    'a bus goes elsewhere': () => apply(page, 'setMainFeed', { ids: ['winds'], to: 'stem-choir', feedIds: ['fw'] }),
    'a send comes in': () => apply(page, 'addSend', { ids: ['kora'], to: 'short-room', tap: 'post', feedIds: ['fs'] }),
    'a setting is changed by a lot': async () =>
      apply(page, 'setSlot', {
        id: await slotOn('plucked', 'equaliser'),
        fields: { params: { kind1: 'bell', db1: 12, hz1: 700 } }
      })
  }
  it.each(Object.keys(changes))('%s: no gap, and no step that the sound itself does not have', async name => {
    was ??= await largest()
    const out = await while2s(changes[name]!)
    const is = await largest()
    for (const [i, leg] of out.entries()) {
      expect(longestSilence(leg)).toBeLessThan(128)
      expect(largestStep(leg)).toBeLessThan(Math.max(was[i]!, is[i]!) * 1.3)
    }
    was = is
  })

  it('any channel can be the thing that is heard', async () => {
    await page.click('[data-heard]')
    await page.fill('#ask-field', 'Frame drum low')
    await page.press('#ask-field', 'Enter')
    await page.locator('[data-heard]', { hasText: 'Frame drum low' }).waitFor()
    await play(page)
    await heardFor(page, RATE * 0.2)
    // Between two of its strokes a drum is silent for most of a second.
    const out = await capture(RATE)
    await stop(page)
    const heard = await now()
    expect(settings(heard).heardChannel).toBe('drum-low')
    // Wherever in the session playing had come to.
    expect(heardIn(out, await ears(RATE * 8, heard))).toBeGreaterThan(0)
  })

  it('a plan that takes much of real time is played by two cores, to the sample what one renders', async () => {
    const cores = () => inPage(async t => t.info.cores, null)
    const { id: main } = rows(session, 'channel').find(c => c.role === 'main')!
    await apply(page, 'setSession', { heardChannel: main })
    const tracks = rows(session, 'channel').filter(c => c.kind === 'track')
    const { slot } = await now()
    const heavier = [1, 2, 3, 4].flatMap(n =>
      tracks.map(t => ({ id: `warm-${n}-${t.id}`, channel: t.id, processor: 'saturation', order: `zzz${n}` }))
    )
    await inPage(async (t, to) => {
      t.setRepeat({ from: 0, to })
      await t.play(0)
    }, RATE * 6)
    // No more than it takes: on a slow machine there is no room for it.
    for (let n = 0; n < heavier.length && (await cores()) < 2; n += 8) {
      for (const added of heavier.slice(n, n + 8)) if (!slot[added.id]) await apply(page, 'addSlot', added)
      await saved(page)
    }
    await expect.poll(cores).toBe(2)
    await inPage(async t => {
      t.stop()
      t.setRepeat(null)
    }, null)
    await play(page)
    await expect.poll(cores).toBe(2)
    await heardFor(page, RATE * 0.4)
    const out = await capture(RATE)
    expect(await cores()).toBe(2)
    expect(await page.locator('.engine').getAttribute('title')).toMatch(/on two cores$/)
    await stop(page)
    expect(heardIn(out, await ears(RATE * 6, await now()), 0, true)).toBeGreaterThan(0)
  })

  it('a machine that cannot keep up says what takes the most of the work, and offers its print', async () => {
    await page.evaluate(() => {
      const { $pinia } = document.querySelector('#__nuxt')!.__vue_app__.config.globalProperties
      ;($pinia._s.get('transport') as { fellBehind: object }).fellBehind = {
        aheadMs: 210,
        heavy: [{ channel: 'dome-hall', share: 0.4 }]
      }
    })
    const notice = page.locator('.notice', { hasText: 'could not keep up' })
    await expect.poll(() => notice.innerText()).toMatch(/Most of the work is in “.+” \(40 %\): print and park it/)
    await notice.getByText('Print these…').click()
    await page.waitForSelector('[data-wanted]')
    expect(await page.locator('[data-wanted]').count()).toBe(1)
  })

  it('nothing was complained about', () => {
    expect(complaints).toEqual([])
  })
})

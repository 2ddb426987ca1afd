// The page: time to sound, the Map with 150 channels.
import { chromium, type Browser, type Page } from 'playwright-core'
import { connectStore, type Sql } from '../server/store/connect'
import { createSession } from '../server/store/sessions'
import { ARGS } from '../e2e/support/browser'
import { raise } from '../e2e/support/stage'
import type { Session } from '@nullet/core/session/session'
import { headline } from './headline'
import { storedNoise } from './noise'

export async function page(say: (what: string, figure: string) => void): Promise<void> {
  const stage = await raise(12)
  const sql = connectStore(stage.database, 4)
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    ignoreDefaultArgs: ['--mute-audio'],
    args: ARGS
  })
  try {
    const session = headline(134, 48000)
    session.clip = {}
    session.medium = {}
    await sql.begin(t => createSession(t, 'wide', session))
    const tab = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    const opened = performance.now()
    await tab.goto(`${stage.url}/s/wide/network`)
    await tab.waitForSelector('[data-channel=t000]')
    say('the Map with 163 channels: page asked for until strips are there, ms', (performance.now() - opened).toFixed(0))
    const gesture = await tab.evaluate(async () => {
      const pinia = (
        document.querySelector('#__nuxt') as unknown as {
          __vue_app__: { config: { globalProperties: { $pinia: { _s: Map<string, unknown> } } } }
        }
      ).__vue_app__.config.globalProperties.$pinia._s
      const store = pinia.get('session') as {
        session: { channel: Record<string, { kind: string }> }
        apply(v: string, a: unknown): boolean
        status: string
      }
      const selection = pinia.get('selection') as { set(ids: string[], at: string): void }
      const ids = Object.entries(store.session.channel)
        .filter(([, c]) => c.kind === 'track')
        .map(([id]) => id)
      const frame = () => new Promise(d => requestAnimationFrame(() => setTimeout(d)))
      const a = performance.now()
      selection.set(ids, ids[0]!)
      store.apply('createSubmix', {
        id: 'all',
        name: 'All',
        order: 'zz',
        members: ids,
        feedIds: ids.concat('x').map(i => `n${i}`),
        to: 'main'
      })
      await frame()
      const drawn = performance.now() - a
      while (store.status !== 'saved') await frame()
      return { drawn, stored: performance.now() - a }
    })
    say('    all tracks selected and re-routed: drawn, ms', gesture.drawn.toFixed(0))
    say('    … and stored, ms', gesture.stored.toFixed(0))

    const grid = performance.now()
    await tab.evaluate(() => {
      const p = (
        document.querySelector('#__nuxt') as unknown as {
          __vue_app__: { config: { globalProperties: { $pinia: { _s: Map<string, { networkAs: string }> } } } }
        }
      ).__vue_app__.config.globalProperties.$pinia._s
      p.get('shell')!.networkAs = 'crosspoints'
    })
    await tab.waitForSelector('[data-cell]')
    say('    Crosspoints of the same, asked for until cells are there, ms', (performance.now() - grid).toFixed(0))
    await scrolling(stage.url, browser, say)

    const play = await browser.newPage()
    await play.goto(`${stage.url}/s/orrin/network`)
    await play.waitForSelector('[data-channel=kora]')
    const starts: number[] = []
    for (let i = 0; i < 5; i++) {
      await play.click('[data-play]')
      await play.waitForFunction(() => document.querySelector('[data-position]')!.textContent! > '0:00.050')
      starts.push(
        await play.evaluate(
          () =>
            (
              (
                document.querySelector('#__nuxt') as unknown as {
                  __vue_app__: { config: { globalProperties: { $pinia: { _s: Map<string, unknown> } } } }
                }
              ).__vue_app__.config.globalProperties.$pinia._s.get('transport') as { engine(): { startMs: number } }
            ).engine().startMs
        )
      )
      await play.click('[data-play]')
      await play.evaluate(() =>
        (
          (
            document.querySelector('#__nuxt') as unknown as {
              __vue_app__: { config: { globalProperties: { $pinia: { _s: Map<string, unknown> } } } }
            }
          ).__vue_app__.config.globalProperties.$pinia._s.get('transport') as { seek(n: number): Promise<void> }
        ).seek(0)
      )
    }
    await play.close()
    say(
      'headline tracks that play live for ten seconds without a gap',
      await liveChannels(sql, stage.url, browser, headline, [24, 48, 72, 96, 120, 144])
    )
    for (const cores of [1, 2])
      say(
        `    with a saturation each, on ${cores} ${cores === 1 ? 'core' : 'cores'}`,
        await liveChannels(sql, stage.url, browser, saturated, [32, 48, 64, 80, 96, 112], cores)
      )
    await seeks(sql, stage.url, browser, say)
    say(
      'click on play until the first frames are ready: first, then median, ms',
      `${starts[0].toFixed(0)}, ${starts
        .slice(1)
        .sort((a, b) => a - b)[1]
        .toFixed(0)}`
    )
  } finally {
    await browser.close()
    await sql.end()
    await stage.fall()
  }
}

/**
 * Frames that come later than 20 ms while the Map of 150 channels is scrolled with meters live, and on an empty page
 * that is scrolled the same way.
 */
async function scrolling(url: string, browser: Browser, say: (what: string, figure: string) => void): Promise<void> {
  const late = async (page: Page, selector: string) =>
    page.evaluate(async which => {
      const scroller = Array.from(document.querySelectorAll<HTMLElement>(which)).at(-1)!
      const times: number[] = []
      for (let i = 0; i < 240; i++) {
        scroller.scrollTop = (i % 120) * 30
        times.push(await new Promise<number>(d => requestAnimationFrame(d)))
      }
      return times.slice(1).filter((t, i) => t - times[i]! > 20).length
    }, selector)
  const empty = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  await empty.setContent(
    '<div id="s" style="height:700px;overflow:auto"><div style="height:9000px;background:linear-gradient(#eee,#333)"></div></div>'
  )
  const map = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  await map.goto(`${url}/s/full-dome/network`)
  await map.waitForSelector('[data-channel=soprano-1]')
  await map.click('[data-play]')
  await map.waitForFunction(() => document.querySelector('[data-position]')!.textContent! > '0:00.300')
  const [a, b] = [await late(empty, '#s'), await late(map, '.map .side')]
  say(
    'scrolling the Map of 150 channels with meters live: frames over 20 ms of 240, beside an empty page',
    `${b} : ${a}`
  )
  await empty.close()
  await map.close()
}

/** The headline with a saturation on each track: twenty times the work. */
function saturated(tracks: number, frames: number): Session {
  const session = headline(tracks, frames)
  for (const slot of Object.values(session.slot).filter(s => s.processor === 'equaliser'))
    session.slot[`warm-${slot.id}`] = {
      ...slot,
      id: `warm-${slot.id}`,
      processor: 'saturation',
      params: {},
      order: 'z'
    }
  return session
}

/**
 * The largest of these numbers of tracks that play ten seconds without a gap, after two for the start; what else runs
 * beside it counts.
 * @param cores that the page believes in; 0: those that are there
 */
async function liveChannels(
  sql: Sql,
  url: string,
  browser: Browser,
  make: (tracks: number, frames: number) => Session,
  sizes: readonly number[],
  cores = 0
): Promise<string> {
  const SECONDS = 14,
    noise = await storedNoise(sql, SECONDS, 3)
  const gaps: string[] = []
  let most = 0
  for (const tracks of sizes) {
    const session = make(tracks, 48000 * SECONDS),
      id = `${make.name}-${tracks}-${cores}`
    for (const m of Object.values(session.medium)) m.sha256 = noise
    await sql.begin(t => createSession(t, id, session))
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    if (cores)
      await page.addInitScript(n => Object.defineProperty(navigator, 'hardwareConcurrency', { get: () => n }), cores)
    await page.goto(`${url}/s/${id}/network`)
    await page.waitForSelector('[data-channel=t000]')
    await page.click('[data-play]')
    const at = (text: string) =>
      page.waitForFunction(t => document.querySelector('[data-position]')!.textContent! > t, text, { timeout: 120_000 })
    const underruns = () =>
      page.evaluate(
        () =>
          (
            (
              document.querySelector('#__nuxt') as unknown as {
                __vue_app__: { config: { globalProperties: { $pinia: { _s: Map<string, unknown> } } } }
              }
            ).__vue_app__.config.globalProperties.$pinia._s.get('transport') as { underruns: number }
          ).underruns
      )
    await at('0:02.000')
    const before = await underruns()
    await at('0:12.000')
    const found = (await underruns()) - before
    gaps.push(`${tracks}: ${found}`)
    await page.close()
    if (found) break
    most = tracks
  }
  return `${most} (gaps at ${gaps.join(', ')})`
}

interface Transport {
  seek(to: number): Promise<void>
  play(from?: number): Promise<void>
  stop(): void
  setRepeat(range: { from: number; to: number } | null): void
  engine(): { startMs: number }
  underruns: number
  playing: boolean
}

/** Sound somewhere in five minutes of 144 tracks: from the click until the first frames are ready. */
async function seeks(
  sql: Sql,
  url: string,
  browser: Browser,
  say: (what: string, figure: string) => void
): Promise<void> {
  const SECONDS = 300,
    RATE = 48000,
    noise = await storedNoise(sql, SECONDS, 4)
  const session = headline(144, RATE * SECONDS)
  for (const m of Object.values(session.medium)) m.sha256 = noise
  await sql.begin(t => createSession(t, 'long144', session))
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  await page.goto(`${url}/s/long144/network`)
  await page.waitForSelector('[data-channel=t000]')
  const figures = await page.evaluate(
    async ({ rate }) => {
      const stores = (
        document.querySelector('#__nuxt') as unknown as {
          __vue_app__: { config: { globalProperties: { $pinia: { _s: Map<string, unknown> } } } }
        }
      ).__vue_app__.config.globalProperties.$pinia._s
      const transport = stores.get('transport') as Transport
      const session = stores.get('session') as { apply(verb: string, args: unknown): boolean }
      const wait = (ms: number) => new Promise(done => setTimeout(done, ms))
      await transport.play(0)
      await wait(3000)
      const startOf = async (seconds: number) => {
        await transport.seek(seconds * rate)
        const { startMs } = transport.engine()
        await wait(1500)
        return startMs
      }
      const cold: number[] = [],
        warm: number[] = [],
        edited: number[] = []
      for (const s of [30, 120, 200, 240, 280]) cold.push(await startOf(s))
      for (const s of [30, 120, 200, 240, 280]) warm.push(await startOf(s))
      for (const [i, s] of [30, 120, 200, 240, 280].entries()) {
        session.apply('setChannels', { ids: ['t003'], fields: { levelDb: -i } })
        await wait(300)
        edited.push(await startOf(s))
      }
      transport.setRepeat({ from: 240 * rate, to: 241.5 * rate })
      await transport.seek(240 * rate)
      await wait(500)
      const before = transport.underruns
      await wait(15_000)
      const gaps = transport.underruns - before
      transport.stop()
      return { cold, warm, edited, gaps }
    },
    { rate: RATE }
  )
  const text = (list: number[]) => list.map(v => v.toFixed(0)).join(', ')
  say('144 tracks, five minutes: seek to 0:30, 2:00, 3:20, 4:00, 4:40, ms, cold', text(figures.cold))
  say('    read before', text(figures.warm))
  say('    read before, right after an edit', text(figures.edited))
  say('    gaps in ten turns of a repeat', String(figures.gaps))
  await page.close()
}

// Sound in a page: its transport, what the output gets, and where that lies in a render.
import type { Page } from 'playwright-core'

interface Engine {
  since: number | null
  capture(n: number): Promise<{ left: Float32Array; right: Float32Array }>
  render(tap: unknown, from: number, n: number): Promise<{ sha256: string }>
}
export interface Transport {
  play(from: number): Promise<void>
  stop(): void
  seek(to: number): Promise<void>
  setRepeat(range: { from: number; to: number } | null): void
  engine(): Engine
  playing: boolean
  position: number
  length: number
  highest: Map<string, number>
  info: { latency: number; cores: number }
}

/** Runs in the page with its transport. */
export const inPage = <T, A>(page: Page, act: (t: Transport, argument: A) => Promise<T>, argument: A): Promise<T> =>
  page.evaluate(
    `(async () => { const t = document.querySelector('#__nuxt').__vue_app__.config.globalProperties.$pinia._s.get('transport'); return (${act.toString()})(t, ${JSON.stringify(argument)}) })()`
  )

/** What the output gets from now on, leg by leg. */
export const capture = (page: Page, frames: number) =>
  inPage(
    page,
    async (t, n) => {
      const { left, right } = await t.engine().capture(n)
      return [[...left], [...right]]
    },
    frames
  ).then(legs => legs.map(l => Float32Array.from(l)))

/** Where a stretch of output lies in a render, to the bit; −1 when it does not. */
export function find(render: Float32Array, stretch: Float32Array, at: number): number {
  const probe = stretch.subarray(at, at + 48)
  search: for (let n = 0; n + 48 < render.length; n++) {
    for (let i = 0; i < 48; i++) if (render[n + i] !== probe[i]) continue search
    return n - at
  }
  return -1
}

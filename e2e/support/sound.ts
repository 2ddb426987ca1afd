// Sound in a page: its transport, what the output gets, and where that lies in a render.
import type { Page } from 'playwright-core'
import { inStore } from './inStore'

interface Engine {
  since: number | null
  underruns: number
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
  inStore(page, 'transport', act, argument)

export const play = (page: Page, from = 0) => inPage(page, async (t, at) => await t.play(at), from)
export const stop = (page: Page) => inPage(page, async t => t.stop(), null)

/**
 * Until so many frames more have been heard. Between the click on play and the first sound there is silence, and the
 * position where a stop has left it: neither counts.
 */
export const heardFor = (page: Page, frames: number) =>
  inPage(
    page,
    async (t, more) => {
      const beat = () => new Promise(requestAnimationFrame)
      while (!t.playing) await beat()
      const from = t.position
      while (t.position < from + more) await beat()
    },
    frames
  )

/** What the output got: `legs × frames`. */
export interface Heard {
  legs: Float32Array[]
  /** How often it ran dry meanwhile: a machine that is busy with something else may not keep up. */
  gaps: number
}

/** What the output gets from now on. */
export async function capture(page: Page, frames: number): Promise<Heard> {
  const { legs, gaps } = await inPage(
    page,
    async (t, n) => {
      const before = t.engine().underruns
      const { left, right } = await t.engine().capture(n)
      const text = (leg: Float32Array) =>
        new Promise<string>(done => {
          const reader = new FileReader()
          reader.onload = () => done((reader.result as string).split(',')[1]!)
          reader.readAsDataURL(new Blob([leg as Float32Array<ArrayBuffer>]))
        })
      return { legs: [await text(left), await text(right)], gaps: t.engine().underruns - before }
    },
    frames
  )
  return { legs: legs.map(l => new Float32Array(Uint8Array.from(Buffer.from(l, 'base64')).buffer)), gaps }
}

/**
 * On a machine that is busy with something else the output may run dry in the very second that is looked at, and says
 * so: once more then. Whatever else fails has failed.
 */
export const WHERE_IT_RAN_DRY = { retry: { count: 2, condition: /ran dry/ } }

const dryness = (gaps: number) => (gaps ? `the output ran dry ${gaps} ×` : 'the output did not run dry')

/** @throws where there are gaps: what was heard is not to be judged then */
export function withoutGaps({ legs, gaps }: Heard): Float32Array[] {
  if (gaps) throw new Error(dryness(gaps))
  return legs
}

/** So many frames in a row are in one place only. */
const PROBE = 48

function placeOf(stretch: Float32Array, render: Float32Array): number {
  search: for (let n = 0; n + stretch.length <= render.length; n++) {
    for (let i = 0; i < stretch.length; i++) if (render[n + i] !== stretch[i]) continue search
    return n
  }
  return -1
}

/**
 * Looks up what was heard in a render, and holds the two together to the bit.
 * @param from frame of what was heard from which on it counts
 * @param render `legs × frames`
 * @param mayRunDry where the output ran dry, as it says itself, silence may come between; nothing is lost by it
 * @returns the frame of the render that was heard at `from`
 * @throws where what was heard is not in the render, or leaves it
 */
export function heardIn({ legs, gaps }: Heard, render: readonly Float32Array[], from = 0, mayRunDry = false): number {
  const [first] = legs as [Float32Array]
  const ranDry = mayRunDry && gaps > 0
  const isSilent = (n: number) => legs.every(leg => leg[n] === 0)
  const probe = first.findIndex((v, n) => n >= from && v !== 0),
    at = probe < 0 ? -1 : placeOf(first.subarray(probe, probe + PROBE), render[0]!)
  if (at < 0) throw new Error(`nothing that was heard is in the render; ${dryness(gaps)}`)
  const begin = at - (probe - from)
  for (let n = from, place = begin; n < first.length; n++, place++) {
    const isSame = () => legs.every((leg, k) => Object.is(leg[n], render[k]![place]))
    if (ranDry && !isSame()) while (n < first.length - 1 && isSilent(n)) n++
    if (!isSame() && !(ranDry && isSilent(n)))
      throw new Error(
        `frame ${n}: ${legs.map(l => l[n])} was heard, ${render.map(l => l[place])} is rendered (frame ${place}); ${dryness(gaps)}`
      )
  }
  return begin
}

// Proves a print: what was stored against the live path, rendered again, at the same place.
import { compile } from '../compile/compile'
import { tapKey, type TapName } from '../compile/plan'
import { PlanStream, render, type RenderRange } from '../run/stream'
import type { MediaReader } from '../run/mediaReader'
import { NullMeter, type Residual } from '../measure/null'
import type { Session } from '../session/session'

/** Reads legs × frames of what was stored for a tap. */
export type StoredReader = (tap: TapName, from: number, frames: number) => Promise<Float32Array[]> | Float32Array[]

/**
 * Residual of each tap, by `channel@tap`. `from` is a frame of source time; what is stored starts there.
 * @param options `only`: the tracks that were let through, where it is a share
 */
export async function verify(
  session: Session,
  media: MediaReader,
  taps: TapName[],
  range: RenderRange,
  seed: number,
  stored: StoredReader,
  options: { progress?: (share: number) => void; stopped?: () => boolean; only?: ReadonlySet<string> } = {}
): Promise<Map<string, Residual>> {
  const meters = new Map(taps.map(t => [tapKey(t), { meter: new NullMeter(), at: 0, tap: t }]))
  const stream = new PlanStream(compile(session, { taps, seed, only: options.only }), session, media)
  await render(
    stream,
    range,
    async (sink, audio) => {
      const m = meters.get(sink)!
      m.meter.feed(audio, await stored(m.tap, m.at, audio[0].length))
      m.at += audio[0].length
    },
    options
  )
  return new Map([...meters].map(([key, m]) => [key, m.meter.read()]))
}

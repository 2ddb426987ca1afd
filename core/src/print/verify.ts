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
  options: {
    progress?: (share: number) => void
    stopped?: () => boolean
    only?: ReadonlySet<string>
    /** Where nothing is compared, in frames of source time, by tap. */
    except?: (tap: TapName) => readonly RenderRange[]
    /** Given the live path before it runs: what is returned is asked after each of its blocks. */
    watch?: (stream: PlanStream) => (at: number) => void
  } = {}
): Promise<Map<string, Residual>> {
  const meters = new Map(taps.map(t => [tapKey(t), { meter: new NullMeter(), at: 0, tap: t }]))
  const stream = new PlanStream(compile(session, { taps, seed, only: options.only }), session, media)
  await render(
    stream,
    range,
    async (sink, audio) => {
      const m = meters.get(sink)!
      const kept = await stored(m.tap, m.at, audio[0].length)
      for (const r of options.except?.(m.tap) ?? []) leaveOut(audio, kept, r.from - range.from - m.at, r.frames)
      m.meter.feed(audio, kept)
      m.at += audio[0].length
    },
    { ...options, look: options.watch?.(stream) }
  )
  return new Map([...meters].map(([key, m]) => [key, m.meter.read()]))
}

/** What a print row keeps of how it compared. */
export const verdict = ({ rmsDb }: Residual): { residualDb: number | null; verified: 'identical' | 'differs' } => ({
  residualDb: Number.isFinite(rmsDb) ? rmsDb : null,
  verified: rmsDb === -Infinity ? 'identical' : 'differs'
})

/** Makes both the same from here on. */
function leaveOut(audio: Float32Array[], kept: readonly Float32Array[], from: number, frames: number): void {
  const begin = Math.max(0, from),
    end = Math.min(audio[0]!.length, from + frames)
  if (begin < end) audio.forEach((leg, i) => leg.set(kept[i]!.subarray(begin, end), begin))
}

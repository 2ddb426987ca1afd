// Do shares add up? The sum of what is stored of them against the tap that they are shares of, rendered live; and what
// keeps them from adding up, where they do not.
import { compile } from '../compile/compile'
import { tapKey } from '../compile/plan'
import { Refusal } from '../foundation/refusal'
import { NullMeter, type Residual } from '../measure/null'
import type { MediaReader } from '../run/mediaReader'
import { PlanStream, render, type RenderRange } from '../run/stream'
import { rowOf, type Session } from '../session/session'
import { whatBreaksTheSum, type Culprit } from './stems'

/** Below this, in dB of the mix, nothing but the rounding of 32-bit samples is left. */
export const SUMS_DB = -120

export interface SumProof extends Residual {
  /** Do they add up within `SUMS_DB` of the mix? */
  sums: boolean
  /** What is to blame where they do not. */
  culprits: Culprit[]
}

/**
 * @param prints shares of one tap, by the ids of their rows; @param range source time, in frames
 * @throws Refusal where they are not shares of one tap
 */
export async function proveSum(
  session: Session,
  media: MediaReader,
  prints: readonly string[],
  range: RenderRange,
  options: { progress?: (share: number) => void; stopped?: () => boolean } = {}
): Promise<SumProof> {
  const all = prints.map(id => rowOf(session, 'print', id))
  const [first] = all
  const isOne = all.every(p => p.source === first?.source && p.tap === first?.tap && p.share !== null)
  if (!first?.source || !isOne)
    throw new Refusal('badArguments', 'Only shares of one tap can add up to it', [...prints])
  const tap = { channel: first.source, tap: first.tap }
  // Where it was printed, whole: what was cropped or moved since is no matter of the sum.
  const stored = all.map(p => {
    const { medium } = rowOf(session, 'clip', p.clip ?? '')
    return { medium, start: p.startFrame, end: p.startFrame + rowOf(session, 'medium', medium).frames }
  })
  const stream = new PlanStream(compile(session, { taps: [tap], seed: first.seed }), session, media)
  const meter = new NullMeter()
  let at = range.from
  await render(
    stream,
    range,
    async (key, live) => {
      if (key !== tapKey(tap)) return
      const frames = live[0]!.length
      const sum = live.map(() => new Float32Array(frames))
      for (const { medium, start, end } of stored) {
        const from = Math.max(at, start),
          to = Math.min(at + frames, end)
        if (from >= to) continue
        const audio = await media.read(medium, from - start, to - from)
        sum.forEach((leg, i) => audio[i]?.forEach((x, n) => (leg[from - at + n]! += x)))
      }
      meter.feed(live, sum)
      at += frames
    },
    options
  )
  const residual = meter.read()
  const sums = residual.rmsDb === -Infinity || residual.rmsDb - residual.signalDb < SUMS_DB
  const shares = all.flatMap(p => p.share ?? [])
  return { ...residual, sums, culprits: sums ? [] : whatBreaksTheSum(session, tap.channel, shares) }
}

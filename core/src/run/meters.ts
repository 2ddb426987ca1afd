// What the meters of a plan show over a range: the highest peak and the mean square of every leg.
import type { PlanStream } from './stream'

export interface Metered {
  /** `port/<id>`, `unit/<id>` … */
  key: string
  leg: number
  peak: number
  /** Mean square over the blocks that were looked at. */
  power: number
}

/** Runs a stream that was started up to `end`; meters count from the first block that ends behind `from`. */
export async function watchMeters(
  stream: PlanStream,
  from: number,
  end: number,
  progress?: (share: number) => void
): Promise<Metered[]> {
  const meters = stream.plan.ops
    .filter(op => op.kind === 'meter')
    .flatMap(op => {
      const state = stream.machine.stateOf(op.key)!,
        key = op.key.slice('meter/'.length)
      return op.ins.map((_, leg) => ({ state, seen: { key, leg, peak: 0, power: 0 } }))
    })
  let blocks = 0
  while (stream.machine.frame < end) {
    await stream.block()
    if (stream.machine.frame <= from) continue
    blocks++
    for (const { state, seen } of meters) {
      seen.peak = Math.max(seen.peak, state[2 * seen.leg] ?? 0)
      seen.power += state[2 * seen.leg + 1] ?? 0
    }
    if (blocks % 64 === 0) progress?.(Math.min(1, (stream.machine.frame - from) / (end - from)))
  }
  return meters.map(({ seen }) => ({ ...seen, power: seen.power / Math.max(1, blocks) }))
}

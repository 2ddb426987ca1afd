// Where signals meet: each placed into the destination's layout, all as late as the latest, added leg by leg.
import { placementTable, reach } from '../session/placement'
import type { EnvelopePoint } from '../session/rows'
import type { PlanBuilder } from '../plan/builder'
import type { Signal, Weighted } from '../plan/operations'

/** A signal on its way into a junction: through a matrix (destination legs × source legs), or placed by an envelope. */
export interface Part {
  signal: Signal
  matrix: number[][]
  gain: number
  pan?: { key: string; points: readonly EnvelopePoint[] }
}

/** Aligns and adds: one mix a leg of the destination, where there is more than one leg to add. */
export function junction(
  builder: PlanBuilder,
  key: string,
  parts: Part[],
  layout: string[],
  legGains = layout.map(() => 1)
): Signal {
  const aligned = builder.align(
    i => `${key}/align/${i}`,
    parts.map(p => p.signal)
  )
  const weighted = parts.map((part, i) => weights(builder, part, aligned[i], layout))
  const legs = layout.map((_, leg) =>
    builder.meeting(
      `${key}/in/${leg}`,
      weighted.flatMap((rows, i) =>
        rows[leg].map((w): Weighted => ({ leg: w.leg, gain: w.gain * parts[i].gain * legGains[leg] }))
      )
    )
  )
  return { legs, layout, latency: Math.max(0, ...aligned.map(s => s.latency)) }
}

/**
 * For every destination leg, the legs that make it up.
 * @param matrix gains, destination legs × source legs; what it leaves out now, but another pan would not, is there too
 */
export function placed(signal: Signal, matrix: number[][], layout: string[]): Weighted[][] {
  const reached = reach(signal.layout, layout)
  return matrix.map((row, leg) =>
    row.flatMap((gain, from): Weighted[] =>
      gain === 0 && !reached[leg][from] ? [] : [{ leg: signal.legs[from], gain }]
    )
  )
}

/** The same of a part. A placement that moves brings legs that are scaled already. */
function weights(builder: PlanBuilder, { pan, matrix }: Part, aligned: Signal, layout: string[]): Weighted[][] {
  if (!pan) return placed(aligned, matrix, layout)
  const curve = builder.envelope(pan.key, pan.points, false, aligned.latency)
  return placementTable(aligned.layout, layout).map((row, leg) =>
    row.flatMap((table, from): Weighted[] => {
      if (table.every(g => g === table[0])) return table[0] === 0 ? [] : [{ leg: aligned.legs[from], gain: table[0] }]
      const key = `${pan.key}/${leg}/${from}`
      return [{ leg: builder.scaled(`${key}/by`, aligned.legs[from], builder.lookup(key, curve, table)), gain: 1 }]
    })
  )
}

// What operations cost, in about nanoseconds a frame. Ratios count: where a plan is cut so that both halves take as
// long, how much of it can be run in a given time.
import type { Op } from '../plan/operations'

const WEIGHTS: Partial<Record<Op['kind'], (op: Op) => number>> = {
  source: op => 1.6 * op.outs.length,
  mix: op => 0.6 + 0.1 * op.ins.length,
  multiply: () => 0.8,
  equaliser: op => 1.2 * op.params[0],
  compressor: () => 4,
  gate: () => 6,
  peaks: () => 63,
  ceiling: () => 25,
  reverb: op => 30 + 15 * op.outs.length,
  echo: op => 12 * op.outs.length,
  saturate: () => 90,
  spectral: op => op.params[0] * (6 + 9 * op.outs.length),
  swing: () => 23,
  fir: op => 0.4 * op.params[0],
  convolve: () => 80,
  drift: () => 60,
  wow: () => 120,
  voice: () => 40,
  envelope: () => 4,
  lookup: () => 2,
  noise: () => 8,
  bend: () => 60
}
export const weight = (op: Op): number => WEIGHTS[op.kind]?.(op) ?? 0.3

/** Cost of a plan, in about nanoseconds a frame. */
export const weightOf = (ops: readonly Op[]): number => ops.reduce((sum, op) => sum + weight(op), 0)

export interface Heavy {
  channel: string
  /** Of the whole plan, 0 … 1. */
  share: number
}

/** Channels that cost the most of a plan, the most first: those that cost at least a fiftieth of it. */
export function heaviest(ops: readonly Op[], most = 3): Heavy[] {
  const all = weightOf(ops),
    costs = new Map<string, number>()
  for (const op of ops)
    if (op.owner.channel !== null) costs.set(op.owner.channel, (costs.get(op.owner.channel) ?? 0) + weight(op))
  return [...costs]
    .map(([channel, cost]) => ({ channel, share: cost / all }))
    .filter(h => h.share >= LEAST_SHARE)
    .toSorted((a, b) => b.share - a.share || (a.channel < b.channel ? -1 : 1))
    .slice(0, most)
}
const LEAST_SHARE = 0.02

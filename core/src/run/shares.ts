// How two threads share the steps of a level, none of which needs another: each gets those whose inputs it has made
// itself, so that sound seldom goes from one core to the other, as far as both get about as much.
import type { Op } from '../plan/operations'
import { weightOf } from './weights'

/** Operations that run side by side in one step. */
export type Lanes = Op[]

export interface Shares {
  own: Lanes[]
  others: Lanes[]
}

/** Work of a level, in nanoseconds a frame, that is worth a second thread; of a job that is worth taking. */
const LEAST = 40,
  JOB = 12
/** How much more than half one may have. */
const SLACK = 1.08

/** Plans that weigh less are done before another thread has come. */
const LEAST_PLAN = 300
export const worthTwo = (ops: readonly Op[]): boolean => weightOf(ops) >= LEAST_PLAN

/** @param levels steps of each level @returns the same, shared; what one does alone is all in `own` */
export function shareOut(levels: readonly Lanes[][]): Shares[] {
  /** −1 where the first made it, 1 the other; 0 for what one makes alone. */
  const maker = new Map<number, number>()
  return levels.map(level => {
    const all = level.map(lanes => ({ lanes, weight: weightOf(lanes) })),
      total = all.reduce((sum, s) => sum + s.weight, 0)
    const shares: Shares = { own: [], others: [] }
    if (total < LEAST || level.length === 1) {
      shares.own = level
      return shares
    }
    const most = (total / 2) * SLACK
    let own = 0,
      others = 0
    // What is heavy goes first, so that what is light fills up.
    for (const { lanes, weight } of all.toSorted((a, b) => b.weight - a.weight)) {
      const pull = lanes.reduce((sum, op) => sum + op.ins.reduce((s, b) => s + (maker.get(b) ?? 0), 0), 0)
      const pulled = pull === 0 ? own + weight / 2 > total / 2 : pull > 0,
        isFull = (pulled ? others : own) + weight / 2 > most
      if (pulled !== isFull) {
        shares.others.push(lanes)
        others += weight
      } else {
        shares.own.push(lanes)
        own += weight
      }
    }
    for (const [steps, by] of [
      [shares.own, -1],
      [shares.others, 1]
    ] as const)
      for (const lanes of steps) for (const op of lanes) for (const b of op.outs) maker.set(b, by)
    return shares
  })
}

/** Cuts steps into jobs, `[first, steps]` each. */
export function jobsOf(steps: readonly Lanes[], first: number): [number, number][] {
  const jobs: [number, number][] = []
  let from = 0,
    sum = 0
  steps.forEach((lanes, i) => {
    sum += weightOf(lanes)
    if (sum < JOB && i < steps.length - 1) return
    jobs.push([first + from, i + 1 - from])
    from = i + 1
    sum = 0
  })
  return jobs
}

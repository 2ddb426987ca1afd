// Puts operations in order, pairs those that share a vector, and lets buffers be used again.
import type { Op } from '../plan/operations'
import { jobsOf, shareOut, type Lanes, type Shares } from './shares'
import { insOf, outsOf, stripsOf } from './strips'

/** One entry of the module's table: one operation, two or four of the same kind, or a strip, see strips.ts. */
export interface Step {
  lanes: Lanes
  /** Lanes of its kernel: those beyond its own repeat the first, and what they give is dropped. */
  width: number
  ins: number[]
  outs: number[]
}

/** What one thread takes at a time: `[first step, steps]`. */
export type Job = [number, number]

export interface Schedule {
  steps: Step[]
  buffers: number
  /** Jobs of each level, for two threads. One that stands alone is done by the first. */
  levels: { own: Job[]; others: Job[] }[]
}

/** Kinds whose kernels carry unrelated lanes, and how many. */
const LANES: Partial<Record<Op['kind'], number>> = { equaliser: 2, compressor: 4 }

/** @param forTwo for two threads: the levels say who takes what */
export function schedule(ops: readonly Op[], forTwo = false): Schedule {
  const levels = levelsOf(stripsOf(ops)).map(gather)
  if (!forTwo) return { ...assign(levels.flat().map(lanes => ({ own: [lanes], others: [] }))), levels: [] }
  const shares = shareOut(levels)
  return { ...assign(shares), levels: levelsOfJobs(shares) }
}

function levelsOfJobs(shares: readonly Shares[]): Schedule['levels'] {
  const levels: Schedule['levels'] = []
  let first = 0,
    alone: Job | null = null
  for (const { own, others } of shares) {
    const steps = own.length + others.length
    if (others.length) {
      levels.push({ own: jobsOf(own, first), others: jobsOf(others, first + own.length) })
      alone = null
    } else if (alone) alone[1] += steps
    else levels.push({ own: [(alone = [first, steps])], others: [] })
    first += steps
  }
  return levels
}

/** Steps by level: each needs only what lies in levels before its own. */
function levelsOf(steps: readonly Lanes[]): Lanes[][] {
  const made = new Map<number, number>(),
    levels: Lanes[][] = []
  // Builders only use what exists already, so one pass in the order of making suffices.
  for (const lanes of steps) {
    const level = Math.max(0, ...insOf(lanes).map(b => made.get(b)! + 1))
    for (const b of outsOf(lanes)) made.set(b, level)
    ;(levels[level] ??= []).push(lanes)
  }
  return levels.map(level => level.sort(([a], [b]) => (a.kind < b.kind ? -1 : a.kind > b.kind ? 1 : 0)))
}

/** Puts what shares a kernel's lanes into one step. */
function gather(level: readonly Lanes[]): Lanes[] {
  const steps: Lanes[] = [],
    waiting = new Map<string, Lanes>()
  for (const single of level) {
    const [op] = single,
      most = LANES[op.kind]
    if (!most) {
      steps.push(single)
      continue
    }
    const likeness = `${op.kind}/${op.moving ?? ''}/${op.kind === 'equaliser' ? op.params[0] : ''}`
    const others = waiting.get(likeness)
    if (others) {
      others.push(op)
      if (others.length === most) waiting.delete(likeness)
    } else {
      steps.push(single)
      waiting.set(likeness, single)
    }
  }
  return steps
}

/** Buffers of one thread: marks of both would share a line of the cache. */
const APART = 64

/** Virtual buffers onto as few real ones as their lifetimes allow: they are free again when a phase is over. */
function assign(phases: readonly Shares[]): Pick<Schedule, 'steps' | 'buffers'> {
  const lastUse = new Map<number, number>()
  phases.forEach(({ own, others }, at) => {
    for (const lanes of [...own, ...others]) for (const b of [...insOf(lanes), ...outsOf(lanes)]) lastUse.set(b, at)
  })
  const pools = [new Pool(), new Pool()] as const
  const real = new Map<number, Place>(),
    ending = new Map<number, number[]>()
  lastUse.forEach((at, b) => ending.set(at, [...(ending.get(at) ?? []), b]))
  const done: { lanes: Lanes; width: number; ins: Place[]; outs: Place[] }[] = []
  phases.forEach(({ own, others }, at) => {
    const spares: Place[] = []
    for (const [pool, steps] of [
      [pools[0], own],
      [pools[1], others]
    ] as const)
      for (const lanes of steps) {
        // Outputs are taken before inputs are given back: no kernel works in place.
        const outs = outsOf(lanes).map(b => put(real, b, pool.take()))
        const ins = insOf(lanes).map(b => real.get(b)!)
        const width = LANES[lanes[0].kind] ? lanes.length + (lanes.length % 2) : lanes.length
        if (width > lanes.length) {
          // A lane without a partner: the first one’s input is computed twice, the second result dropped.
          const spare = pool.take()
          spares.push(spare)
          done.push({ lanes, width, ins: [...ins, ins[0]], outs: [...outs, spare] })
        } else done.push({ lanes, width, ins, outs })
      }
    for (const place of [...spares, ...(ending.get(at) ?? []).map(b => real.get(b)!)]) place.pool.free.push(place)
  })
  const second = Math.ceil(pools[0].count / APART) * APART
  const number = ({ pool, at }: Place) => (pool === pools[0] ? at : second + at)
  return {
    steps: done.map(s => ({ ...s, ins: s.ins.map(number), outs: s.outs.map(number) })),
    buffers: pools[1].count ? second + pools[1].count : pools[0].count
  }
}

interface Place {
  pool: Pool
  at: number
}

class Pool {
  readonly free: Place[] = []
  count = 0
  take(): Place {
    return this.free.pop() ?? { pool: this, at: this.count++ }
  }
}

function put<K, V>(map: Map<K, V>, key: K, value: V): V {
  map.set(key, value)
  return value
}

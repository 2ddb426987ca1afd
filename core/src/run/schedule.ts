// Puts operations in order, pairs those that share a vector, and lets buffers be used again.
import type { Op } from '../plan/operations'

/** One entry of the module's table: one operation, or two or four lanes of the same kind. */
export interface Step {
  lanes: Op[]
  /** Lanes of its kernel: those beyond its own repeat the first, and what they give is dropped. */
  width: number
  ins: number[]
  outs: number[]
}

export interface Schedule {
  steps: Step[]
  buffers: number
}

/** Kinds whose kernels carry unrelated lanes, and how many. */
const LANES: Partial<Record<Op['kind'], number>> = { equaliser: 2, compressor: 4 }

export function schedule(ops: Op[]): Schedule {
  const maker = new Map<number, Op>()
  for (const op of ops) for (const b of op.outs) maker.set(b, op)
  const level = new Map<Op, number>()
  // Builders only use what exists already, so one pass in the order of making suffices.
  for (const op of ops) level.set(op, 1 + Math.max(0, ...op.ins.map(b => level.get(maker.get(b)!)!)))
  const ordered = ops
    .map((op, i) => ({ op, i }))
    .sort(
      (a, b) =>
        level.get(a.op)! - level.get(b.op)! || (a.op.kind < b.op.kind ? -1 : a.op.kind > b.op.kind ? 1 : a.i - b.i)
    )
    .map(o => o.op)
  return assign(gather(ordered, level))
}

function gather(ordered: Op[], level: Map<Op, number>): Op[][] {
  const steps: Op[][] = []
  const waiting = new Map<string, Op[]>()
  for (const op of ordered) {
    const most = LANES[op.kind]
    if (!most) {
      steps.push([op])
      continue
    }
    const likeness = `${op.kind}/${level.get(op)}/${op.kind === 'equaliser' ? op.params[0] : ''}`
    const others = waiting.get(likeness)
    if (others) {
      others.push(op)
      if (others.length === most) waiting.delete(likeness)
    } else {
      const lanes = [op]
      steps.push(lanes)
      waiting.set(likeness, lanes)
    }
  }
  return steps
}

/** Virtual buffers onto as few real ones as their lifetimes allow. */
function assign(steps: Op[][]): Schedule {
  const lastUse = new Map<number, number>()
  steps.forEach((lanes, at) => {
    for (const op of lanes) for (const b of [...op.ins, ...op.outs]) lastUse.set(b, Math.max(at, lastUse.get(b) ?? 0))
  })
  const free: number[] = []
  const real = new Map<number, number>()
  let count = 0
  const take = () => free.pop() ?? count++
  const done: Step[] = []
  steps.forEach((lanes, at) => {
    // Outputs are taken before inputs are given back: no kernel works in place.
    const outs = lanes.flatMap(op =>
      op.outs.map(b => {
        const r = take()
        real.set(b, r)
        return r
      })
    )
    const ins = lanes.flatMap(op => op.ins.map(b => real.get(b)!))
    const width = LANES[lanes[0].kind] ? lanes.length + (lanes.length % 2) : 1
    if (width > lanes.length) {
      // A lane without a partner: the first one’s input is computed twice, the second result dropped.
      const spare = take()
      done.push({ lanes, width, ins: [...ins, ins[0]], outs: [...outs, spare] })
      free.push(spare)
    } else done.push({ lanes, width, ins, outs })
    for (const b of new Set(lanes.flatMap(op => [...op.ins, ...op.outs])))
      if (lastUse.get(b) === at) free.push(real.get(b)!)
  })
  return { steps: done, buffers: count }
}

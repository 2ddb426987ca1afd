// What every strip ends with, done in one step: the product with a gain curve, if there is one, the guard after it and
// the fader, each of which is used by the next alone. See core/kernels/strip.ts.
import type { Op } from '../plan/operations'
import type { Lanes } from './shares'

/** Operations in the order of making, those that make a strip together. */
export function stripsOf(ops: readonly Op[]): Lanes[] {
  const uses = new Map<number, number>(),
    makers = new Map<number, Op>()
  for (const op of ops) {
    for (const b of op.ins) uses.set(b, (uses.get(b) ?? 0) + 1)
    for (const b of op.outs) makers.set(b, op)
  }
  /** What makes an operation's first input for it alone. */
  const before = (op: Op): Op | null => (uses.get(op.ins[0]) === 1 ? makers.get(op.ins[0])! : null)
  const taken = new Set<Op>(),
    strips = new Map<Op, Lanes>()
  for (const fader of ops) {
    if (!isPlainMix(fader)) continue
    const guard = before(fader)
    if (!guard || !isPlainMix(guard) || taken.has(guard)) continue
    const product = before(guard)
    const strip = [...(product?.kind === 'multiply' ? [product] : []), guard, fader]
    for (const op of strip) taken.add(op)
    strips.set(fader, strip)
  }
  return ops.flatMap(op => (strips.has(op) ? [strips.get(op)!] : taken.has(op) ? [] : [[op]]))
}

const isPlainMix = (op: Op) => op.kind === 'mix' && op.ins.length === 1

/** Operations of one step are of one kind, side by side, or a strip, one after the other. */
export const isStrip = (lanes: Lanes): boolean => lanes.length > 1 && lanes[0].outs[0] === lanes[1].ins[0]

export const insOf = (lanes: Lanes): number[] => (isStrip(lanes) ? lanes[0].ins : lanes.flatMap(op => op.ins))
export const outsOf = (lanes: Lanes): number[] => (isStrip(lanes) ? lanes.at(-1)!.outs : lanes.flatMap(op => op.outs))

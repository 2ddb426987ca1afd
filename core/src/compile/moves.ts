// Slots whose settings follow envelopes. Once a block the settings at the block's end are turned into parameters of the
// slot's operations; the kernels go there in a straight line over the block.
import { valueAt, type Law } from '../movement/envelope'
import { movementOf } from '../movement/targets'
import type { BuildContext, Processor } from '../processors/processor'
import type { Envelope, EnvelopePoint, Slot } from '../session/rows'
import { PlanBuilder } from '../plan/builder'
import { rowKey, type Op, type Signal } from '../plan/operations'

interface Field {
  name: string
  points: readonly EnvelopePoint[]
  law: Law
}

export interface SlotMove {
  slot: string
  /** Latency of what enters the slot: envelopes count in source time. */
  latency: number
  fields: Field[]
  mix: Field | null
  /** Parameters by key of operation for these settings. */
  params(values: Record<string, number>): Pick<Op, 'key' | 'params'>[]
  legs: number
}

/** Null where no envelope moves the slot. */
export function slotMove(
  slot: Slot,
  processor: Processor | null,
  envelopes: ReadonlyMap<string, Envelope>,
  signal: Signal,
  context?: Omit<BuildContext, 'builder'>
): SlotMove | null {
  if (slot.state !== 'on') return null
  const fieldOf = (name: string): Field | null => {
    const moves = envelopes.get(`slot/${slot.id}/${name}`),
      how = moves && movementOf(slot, name)
    return how ? { name, points: moves.points, law: how.law } : null
  }
  const mix = fieldOf('mix')
  const fields = (processor?.parameters ?? []).flatMap(p => fieldOf(p.name) ?? [])
  if (!mix && !fields.length) return null
  return {
    slot: slot.id,
    latency: signal.latency,
    fields,
    mix,
    legs: signal.legs.length,
    params(values) {
      if (!processor || !context) return []
      const builder = new PlanBuilder()
      processor.build(signal, { ...context, builder, params: { ...context.params, ...values } })
      return builder.ops
    }
  }
}

/** Keeps the slots of one stream where their envelopes are. */
export class Mover {
  private readonly last = new Map<SlotMove, number[]>()

  constructor(
    private readonly moves: readonly SlotMove[],
    private readonly set: (key: string, params: readonly number[]) => void
  ) {}

  /** @param frame machine frame at which the next block ends */
  to(frame: number): void {
    for (const move of this.moves) {
      const at = frame - move.latency
      const values = [...move.fields, ...(move.mix ? [move.mix] : [])].map(f => valueAt(f.points, at, f.law))
      const before = this.last.get(move)
      if (before && values.every((v, i) => v === before[i])) continue
      this.last.set(move, values)
      const named = Object.fromEntries(move.fields.map((f, i) => [f.name, values[i]]))
      if (move.fields.length) for (const op of move.params(named)) this.set(op.key, op.params)
      if (move.mix)
        for (let leg = 0; leg < move.legs; leg++)
          this.set(`${rowKey('slot', move.slot)}/mix/${leg}`, [values.at(-1)!, 1 - values.at(-1)!])
    }
  }

  /** Everything is set anew with the next block. */
  forget(): void {
    this.last.clear()
  }
}

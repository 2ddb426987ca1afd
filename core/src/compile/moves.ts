// Slots whose settings follow envelopes. Once a block the settings at the block's end are turned into parameters of the
// slot's operations; the kernels go there in a straight line over the block.
import { valueAt, type Law } from '../movement/envelope'
import { movementOf } from '../movement/targets'
import type { BuildContext, Processor } from '../processors/processor'
import { PROCESSORS } from '../processors/table'
import type { Envelope, EnvelopePoint, Params, Slot } from '../session/rows'
import { PlanBuilder } from '../plan/builder'
import { rowKey, type Op, type Signal } from '../plan/operations'

interface Field {
  name: string
  points: readonly EnvelopePoint[]
  law: Law
}

/** Plain data, so that one thread can say what another one follows. */
export interface SlotMove {
  slot: string
  /** What enters the slot. Its latency counts: envelopes are in source time. */
  signal: Signal
  fields: Field[]
  mix: Field | null
  /** What its operations are made with; null: a loop, which has no settings. */
  made: (Omit<BuildContext, 'builder' | 'responseFrames'> & { processor: string; responseFrames: number }) | null
}

/** Parameters by key of operation for these settings. */
export function settled({ signal, made }: SlotMove, values: Params): Pick<Op, 'key' | 'params'>[] {
  if (!made) return []
  const { processor, responseFrames, ...context } = made,
    builder = new PlanBuilder()
  PROCESSORS[processor].build(signal, {
    ...context,
    builder,
    responseFrames: () => responseFrames,
    params: { ...made.params, ...values }
  })
  return builder.ops
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
  const response = processor?.parameters.find(p => p.medium)
  return {
    slot: slot.id,
    signal,
    fields,
    mix,
    made:
      processor && context
        ? {
            ...context,
            processor: processor.id,
            responseFrames: response ? context.responseFrames(context.params[response.name] as string) : 0
          }
        : null
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
      const at = frame - move.signal.latency
      const values = [...move.fields, ...(move.mix ? [move.mix] : [])].map(f => valueAt(f.points, at, f.law))
      const before = this.last.get(move)
      if (before && values.every((v, i) => v === before[i])) continue
      this.last.set(move, values)
      const named = Object.fromEntries(move.fields.map((f, i) => [f.name, values[i]]))
      if (move.fields.length) for (const op of settled(move, named)) this.set(op.key, op.params)
      if (move.mix)
        for (let leg = 0; leg < move.signal.legs.length; leg++)
          this.set(`${rowKey('slot', move.slot)}/mix/${leg}`, [values.at(-1)!, 1 - values.at(-1)!])
    }
  }

  /** Everything is set anew with the next block. */
  forget(): void {
    this.last.clear()
  }
}

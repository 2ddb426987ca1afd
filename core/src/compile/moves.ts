// Slots whose settings follow envelopes, as plain data: run/mover.ts keeps them where their envelopes are.
import type { Law } from '../movement/envelope'
import { movementOf } from '../movement/targets'
import type { BuildContext, Processor } from '../processors/processor'
import type { Envelope, EnvelopePoint, Slot } from '../session/rows'
import type { Signal } from '../plan/operations'

export interface MovingField {
  name: string
  points: readonly EnvelopePoint[]
  law: Law
}

export interface SlotMove {
  slot: string
  /** What enters the slot. Its latency counts: envelopes are in source time. */
  signal: Signal
  fields: MovingField[]
  mix: MovingField | null
  /** What its operations are made with; null: a loop, which has no settings. */
  made: (Omit<BuildContext, 'builder' | 'responseFrames'> & { processor: string; responseFrames: number }) | null
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
  const fieldOf = (name: string): MovingField | null => {
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

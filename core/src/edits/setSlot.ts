import { z } from 'zod'
import { LONGEST_RESPONSE_S } from '../processors/convolution'
import { checkParams } from '../processors/processor'
import { PROCESSORS, slotLabel } from '../processors/table'
import { RESPONSES } from '../processors/responses'
import { Refusal } from '../refusal'
import { Params, SlotRow } from '../session/rows'
import { settings, type Session } from '../session/session'
import { defineEdit, need } from './edit'

/** A response that is named is there, and short enough to be one. */
function checkResponse(session: Session, id: unknown): void {
  if (typeof id !== 'string' || id in RESPONSES) return
  const medium = session.medium[id], longest = LONGEST_RESPONSE_S * settings(session).sampleRate
  if (!medium) throw new Refusal('notFound', `There is no impulse response “${id}” in this session`, [id])
  if (medium.frames < 1 || medium.frames > longest) {
    throw new Refusal('badArguments', `“${medium.name}” is ${(medium.frames / settings(session).sampleRate).toFixed(1)} s long; an impulse response has between one sample and ${LONGEST_RESPONSE_S} s`, [id])
  }
}

/** Settings, state, mix, key cuts or place of a slot. Settings are merged into those it has. */
export const setSlot = defineEdit({
  verb: 'setSlot',
  args: z.object({
    id: z.string(),
    fields: z.object({
      params: Params, state: z.enum(['on', 'bypassed', 'off']), mix: z.number(), order: z.string(), afterFader: z.boolean(),
      keyLowCutHz: z.number().nullable(), keyHighCutHz: z.number().nullable()
    }).partial()
  }),
  label: (s, a) => `${slotLabel(s.slot[a.id]?.processor ?? '')} on “${s.channel[s.slot[a.id]?.channel]?.name}”`,
  apply(draft, { id, fields }) {
    const slot = need(draft, 'slot', id)
    const processor = PROCESSORS[slot.processor]
    if (processor && fields.params) checkParams(processor.label, processor.parameters, fields.params)
    checkResponse(draft, fields.params?.response)
    draft.slot[id] = SlotRow.parse({ ...slot, ...fields, params: { ...slot.params, ...fields.params } })
  }
})

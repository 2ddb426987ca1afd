import { z } from 'zod'
import { slotLabel } from '../processors/table'
import { Params, SlotRow } from '../session/rows'
import { defineEdit, need, slotOwner } from './edit'

/** Settings, state, mix, key cuts or place of a slot. Settings are merged into those it has. */
export const setSlot = defineEdit({
  verb: 'setSlot',
  args: z.object({
    id: z.string(),
    fields: z
      .object({
        params: Params,
        state: z.enum(['on', 'bypassed', 'off']),
        mix: z.number(),
        order: z.string(),
        afterFader: z.boolean(),
        keyLowCutHz: z.number().nullable(),
        keyHighCutHz: z.number().nullable()
      })
      .partial()
  }),
  label: (s, a) => `${slotLabel(s.slot[a.id]?.processor ?? '')} on “${slotOwner(s, a.id)}”`,
  apply(draft, { id, fields }) {
    const slot = need(draft, 'slot', id)
    draft.slot[id] = SlotRow.parse({ ...slot, ...fields, params: { ...slot.params, ...fields.params } })
  }
})

import { z } from 'zod'
import { ROLES } from '../session/rows'
import { defineEdit, need, put } from './edit'

/** A new bus that nothing feeds yet: a submix, a return, a stem or a main. May come with a first slot. */
export const createBus = defineEdit({
  verb: 'createBus',
  args: z.object({
    id: z.string(),
    name: z.string(),
    role: z.enum(ROLES),
    order: z.string(),
    layout: z.array(z.string()).default(['L', 'R']),
    colour: z.number().default(0),
    family: z.string().default(''),
    to: z.string().nullable().default(null),
    feedId: z.string().optional(),
    slot: z
      .object({ id: z.string(), processor: z.string(), params: z.record(z.string(), z.any()).default({}) })
      .optional()
  }),
  label: (_, a) => `New ${a.role} “${a.name}”`,
  apply(draft, { to, feedId, slot, ...fields }) {
    put(draft, 'channel', { ...fields, kind: 'bus' })
    if (to && feedId) {
      need(draft, 'channel', to)
      put(draft, 'feed', { id: feedId, kind: 'main', from: fields.id, to })
    }
    if (slot) put(draft, 'slot', { ...slot, channel: fields.id, order: 'a0' })
  }
})

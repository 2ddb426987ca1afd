import { z } from 'zod'
import { ROLES } from '../session/rows'
import { defineEdit, need, put } from './edit'

/** Several channels of one kind at once, with one destination. */
export const createChannels = defineEdit({
  verb: 'createChannels',
  args: z.object({
    channels: z
      .array(z.object({ id: z.string(), name: z.string(), order: z.string(), feedId: z.string() }))
      .min(1)
      .max(500),
    role: z.enum(ROLES),
    layout: z.array(z.string()),
    colour: z.number().default(8),
    family: z.string().default(''),
    to: z.string().nullable().default(null)
  }),
  label: (_, { channels, role }) =>
    channels.length === 1 ? `New ${role} “${channels[0]?.name}”` : `${channels.length} new channels`,
  apply(draft, { channels, to, role, ...fields }) {
    if (to) need(draft, 'channel', to)
    for (const { id, name, order, feedId } of channels) {
      put(draft, 'channel', { id, name, order, role, kind: role === 'track' ? 'track' : 'bus', ...fields })
      if (to) put(draft, 'feed', { id: feedId, kind: 'main', from: id, to })
    }
  }
})

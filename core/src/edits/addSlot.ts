import { z } from 'zod'
import { slotLabel } from '../processors/table'
import { Params } from '../session/rows'
import { defineEdit, need, put } from './edit'

/** A processor or a loop into a channel's order. */
export const addSlot = defineEdit({
  verb: 'addSlot',
  args: z.object({
    id: z.string(),
    channel: z.string(),
    processor: z.string(),
    params: Params.default({}),
    order: z.string(),
    afterFader: z.boolean().default(false),
    loop: z.string().nullable().default(null)
  }),
  label: (s, a) =>
    `${a.loop ? `Loop “${s.loop[a.loop]?.name}”` : slotLabel(a.processor)} on “${s.channel[a.channel]?.name}”`,
  apply(draft, args) {
    need(draft, 'channel', args.channel)
    if (args.loop !== null) need(draft, 'loop', args.loop)
    put(draft, 'slot', args)
  }
})

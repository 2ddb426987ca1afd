import { z } from 'zod'
import { peekRows } from '../session/draft'
import { LOOP, slotLabel } from '../processors/table'
import { Refusal } from '../foundation/refusal'
import { derivedId } from '../session/ids'
import { defineEdit, need, put } from './edit'

/** A slot to another place or another channel; with `copy` a second one is made there. Its keys go along. */
export const moveSlot = defineEdit({
  verb: 'moveSlot',
  args: z.object({
    id: z.string(),
    channel: z.string(),
    order: z.string(),
    afterFader: z.boolean(),
    copy: z.string().optional()
  }),
  label: (s, a) =>
    `${a.copy ? 'Copy' : 'Move'} ${slotLabel(s.slot[a.id]?.processor ?? '').toLowerCase()} to “${s.channel[a.channel]?.name}”`,
  apply(draft, { id, channel, order, afterFader, copy }) {
    const slot = need(draft, 'slot', id)
    need(draft, 'channel', channel)
    if (!copy) {
      Object.assign(slot, { channel, order, afterFader })
      return
    }
    if (slot.processor === LOOP)
      throw new Refusal('portTaken', 'A loop can be in one place at a time: move it, or print it there', [id])
    put(draft, 'slot', { ...slot, id: copy, channel, order, afterFader })
    for (const key of peekRows(draft, 'feed').filter(f => f.slot === id))
      put(draft, 'feed', { ...key, id: derivedId(copy, key.id), slot: copy })
  }
})

import { z } from 'zod'
import { slotLabel } from '../processors/table'
import { rows } from '../session/session'
import { defineEdit, need } from './edit'

/** Takes a slot out, with the key feeds into it. */
export const removeSlot = defineEdit({
  verb: 'removeSlot',
  args: z.object({ id: z.string() }),
  label: (s, a) => `Remove ${slotLabel(s.slot[a.id]?.processor ?? '')} from “${s.channel[s.slot[a.id]?.channel]?.name}”`,
  apply(draft, { id }) {
    need(draft, 'slot', id)
    for (const f of rows(draft, 'feed')) if (f.slot === id) delete draft.feed[f.id]
    delete draft.slot[id]
  }
})

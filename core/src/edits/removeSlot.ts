import { z } from 'zod'
import { peekRows } from '../session/draft'
import { slotLabel } from '../processors/table'
import { defineEdit, need, slotOwner } from './edit'

/** Takes a slot out, with the key feeds into it. */
export const removeSlot = defineEdit({
  verb: 'removeSlot',
  args: z.object({ id: z.string() }),
  label: (s, a) => `Remove ${slotLabel(s.slot[a.id]?.processor ?? '')} from “${slotOwner(s, a.id)}”`,
  apply(draft, { id }) {
    need(draft, 'slot', id)
    for (const f of peekRows(draft, 'feed')) if (f.slot === id) delete draft.feed[f.id]
    delete draft.slot[id]
  }
})

import { z } from 'zod'
import { peekRows } from '../session/draft'
import { defineEdit, need } from './edit'

/** Takes a loop away, and out of the slot that holds it. */
export const removeLoop = defineEdit({
  verb: 'removeLoop',
  args: z.object({ id: z.string() }),
  label: (s, a) => `Remove loop “${s.loop[a.id]?.name}”`,
  apply(draft, { id }) {
    need(draft, 'loop', id)
    for (const s of peekRows(draft, 'slot')) if (s.loop === id) delete draft.slot[s.id]
    delete draft.loop[id]
  }
})

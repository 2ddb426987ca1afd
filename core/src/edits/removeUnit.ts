import { z } from 'zod'
import { peekRows } from '../session/draft'
import { defineEdit, need } from './edit'

/** Takes a unit out of its room, with the cables that were in it. Loops keep their ports. */
export const removeUnit = defineEdit({
  verb: 'removeUnit',
  args: z.object({ id: z.string() }),
  label: (s, a) => `Remove unit “${s.unit[a.id]?.name}”`,
  apply(draft, { id }) {
    need(draft, 'unit', id)
    for (const c of peekRows(draft, 'cable')) if (c.fromUnit === id || c.toUnit === id) delete draft.cable[c.id]
    delete draft.unit[id]
  }
})

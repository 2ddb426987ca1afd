import { z } from 'zod'
import { defineEdit, type Edit } from './edit'

/**
 * Edits one after the other as one: undone together, or refused together. @param editCalled finds an edit by its verb
 */
export const severalOf = (editCalled: (verb: string) => Edit) =>
  defineEdit({
    verb: 'several',
    args: z.object({
      label: z.string().min(1).max(300),
      edits: z.array(z.object({ verb: z.string(), args: z.unknown() })).min(1)
    }),
    label: (_, a) => a.label,
    apply(draft, { edits }) {
      for (const { verb, args } of edits) {
        const edit = editCalled(verb)
        edit.apply(draft, edit.args.parse(args))
      }
    }
  })

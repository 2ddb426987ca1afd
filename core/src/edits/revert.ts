import { z } from 'zod'
import { Refusal } from '../refusal'
import { TABLE_NAMES } from '../session/rows'
import type { Session } from '../session/session'
import { defineEdit } from './edit'

const Change = z.object({
  table: z.enum(TABLE_NAMES as [keyof Session, ...(keyof Session)[]]), id: z.string(),
  before: z.record(z.string(), z.any()).nullable(), after: z.record(z.string(), z.any()).nullable()
})

/**
 * Undo and redo: applies row changes by field. Refused only where the same field has moved on since,
 * so that somebody else's work on other fields stays.
 */
export const revert = defineEdit({
  verb: 'revert',
  args: z.object({ label: z.string(), changes: z.array(Change) }),
  label: (_, a) => a.label,
  apply(draft, { label, changes }) {
    const moved = (id: string) => new Refusal('stale', `“${label}” cannot be taken back: something it changed has been changed again since`, [id])
    for (const { table, id, before, after } of changes) {
      const here = draft[table] as Record<string, Record<string, unknown>>
      if (!before) {
        if (here[id]) throw moved(id)
        here[id] = after!
      } else if (!here[id]) throw moved(id)
      else if (!after) delete here[id]
      else {
        for (const field of Object.keys(after)) {
          if (same(before[field], after[field])) continue
          if (!same(here[id][field], before[field])) throw moved(id)
          here[id][field] = after[field]
        }
      }
    }
  }
})

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

import { z } from 'zod'
import { Refusal } from '../refusal'
import { TABLE_NAMES } from '../session/rows'
import { makeRow, type Session } from '../session/session'
import { defineEdit } from './edit'

/** Brings finished rows in: an imported track with its clip and medium, a print with its track. Nothing may exist already. */
export const addRows = defineEdit({
  verb: 'addRows',
  args: z.object({ label: z.string(), rows: z.array(z.object({ table: z.enum(TABLE_NAMES as [keyof Session, ...(keyof Session)[]]), row: z.record(z.string(), z.any()) })) }),
  label: (_, a) => a.label,
  apply(draft, args) {
    for (const { table, row } of args.rows) {
      const made = makeRow(table, row) as { id: string }
      if (draft[table][made.id] && table !== 'medium') throw new Refusal('stale', `The ${table} “${made.id}” is there already`, [made.id])
      ;(draft[table] as Record<string, unknown>)[made.id] ??= made
    }
  }
})

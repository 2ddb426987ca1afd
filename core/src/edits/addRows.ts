import { z } from 'zod'
import { TABLE_NAMES } from '../session/rows'
import type { Session } from '../session/session'
import { defineEdit, put } from './edit'

/**
 * Brings finished rows in: an imported track with its clip and medium, a print with its track. Nothing may exist
 * already.
 */
export const addRows = defineEdit({
  verb: 'addRows',
  args: z.object({
    label: z.string().max(300),
    rows: z.array(
      z.object({
        table: z.enum(TABLE_NAMES as [keyof Session, ...(keyof Session)[]]),
        row: z.record(z.string(), z.any())
      })
    )
  }),
  label: (_, a) => a.label,
  apply(draft, args) {
    for (const { table, row } of args.rows) {
      put(draft, table, row)
    }
  }
})

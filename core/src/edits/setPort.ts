import { z } from 'zod'
import { PortRow } from '../session/rows'
import { defineEdit, need } from './edit'

/**
 * What is written at a port: its name, what kind of signal it takes, its own reference level where it has one, the trim
 * of an output.
 */
export const setPort = defineEdit({
  verb: 'setPort',
  args: z.object({
    id: z.string(),
    fields: z
      .object({
        name: z.string(),
        signal: z.enum(['analog', 'digital']),
        referenceDbu: z.number().nullable(),
        trimDb: z.number()
      })
      .partial()
  }),
  label: (s, { id, fields }) =>
    fields.name === undefined
      ? `Setting of port “${s.port[id]?.name ?? id}”`
      : `Rename port “${s.port[id]?.name ?? id}” to “${fields.name}”`,
  apply(draft, { id, fields }) {
    draft.port[id] = PortRow.parse({ ...need(draft, 'port', id), ...fields })
  }
})

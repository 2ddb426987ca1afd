import { z } from 'zod'
import { InterfaceRow } from '../session/rows'
import { defineEdit, need } from './edit'

/** What is declared of an interface: its name, latencies, reference level and clock. */
export const setInterface = defineEdit({
  verb: 'setInterface',
  args: z.object({
    id: z.string(),
    fields: z
      .object({
        name: z.string(),
        reportedLatencySamples: z.number(),
        trueLatencySamples: z.number(),
        referenceDbu: z.number(),
        clock: z.enum(['locked', 'free']),
        driftPpm: z.number()
      })
      .partial()
  }),
  label: (s, { id, fields }) =>
    `${'clock' in fields ? 'Clock' : 'driftPpm' in fields ? 'Drift' : 'Setting'} of “${s.interface[id]?.name ?? id}”`,
  apply(draft, { id, fields }) {
    draft.interface[id] = InterfaceRow.parse({ ...need(draft, 'interface', id), ...fields })
  }
})

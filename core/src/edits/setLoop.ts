import { z } from 'zod'
import { LoopRow, Ping } from '../session/rows'
import { defineEdit, need, put } from './edit'

const Fields = z
  .object({
    name: z.string(),
    order: z.string(),
    outPorts: z.array(z.string()),
    inPorts: z.array(z.string()),
    sendDb: z.number().nullable(),
    returnDb: z.number().nullable(),
    inverted: z.boolean(),
    ping: Ping.nullable(),
    applied: z.boolean(),
    compensated: z.boolean()
  })
  .partial()

/** Makes a loop (with `rig`) or changes one: ports, gains, polarity, what was measured. */
export const setLoop = defineEdit({
  verb: 'setLoop',
  args: z.object({ id: z.string(), rig: z.string().optional(), fields: Fields }),
  label: (s, a) =>
    a.rig
      ? `New loop “${a.fields.name}”`
      : a.fields.ping
        ? `Ping of “${s.loop[a.id]?.name}”`
        : `Change of loop “${s.loop[a.id]?.name}”`,
  apply(draft, { id, rig, fields }) {
    for (const p of [...(fields.outPorts ?? []), ...(fields.inPorts ?? [])]) need(draft, 'port', p)
    if (rig) put(draft, 'loop', { id, rig: need(draft, 'rig', rig).id, ...fields })
    else draft.loop[id] = LoopRow.parse({ ...need(draft, 'loop', id), ...fields })
  }
})

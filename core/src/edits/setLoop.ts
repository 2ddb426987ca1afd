import { z } from 'zod'
import { LoopRow, MOST_FORMER_PINGS, Ping } from '../session/rows'
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

/** Makes a loop (with `rig`) or changes one: ports, gains, polarity, what was measured. A former ping is kept. */
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
    else {
      const loop = need(draft, 'loop', id)
      const former = fields.ping && loop.ping ? [loop.ping, ...loop.former].slice(0, MOST_FORMER_PINGS) : loop.former
      draft.loop[id] = LoopRow.parse({ ...loop, former, ...fields })
    }
  }
})

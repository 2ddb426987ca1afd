import { z } from 'zod'
import { Refusal } from '../refusal'
import { LoopRow, Ping } from '../session/rows'
import type { Session } from '../session/session'
import { defineEdit, need } from './edit'

const Fields = z.object({
  name: z.string(), order: z.string(), outPorts: z.array(z.string()), inPorts: z.array(z.string()),
  sendDb: z.number().nullable(), returnDb: z.number().nullable(), inverted: z.boolean(),
  ping: Ping.nullable(), applied: z.boolean(), compensated: z.boolean()
}).partial()

/** Makes a loop (with `rig`) or changes one: ports, gains, polarity, what was measured. */
export const setLoop = defineEdit({
  verb: 'setLoop',
  args: z.object({ id: z.string(), rig: z.string().optional(), fields: Fields }),
  label: (s, a) => a.rig ? `New loop “${a.fields.name}”` : a.fields.ping ? `Ping of “${s.loop[a.id]?.name}”` : `Change of loop “${s.loop[a.id]?.name}”`,
  apply(draft, { id, rig, fields }) {
    const before = rig ? { id, rig: need(draft, 'rig', rig).id } : need(draft, 'loop', id)
    const loop = LoopRow.parse({ ...before, ...fields })
    directions(draft, loop.outPorts, 'out')
    directions(draft, loop.inPorts, 'in')
    if (loop.inPorts.length > 2) throw new Refusal('layout', `“${loop.name}” returns on ${loop.inPorts.length} ports; a loop returns on one or two`, loop.inPorts)
    draft.loop[id] = loop
  }
})

function directions(draft: Session, ports: string[], direction: 'out' | 'in'): void {
  for (const p of ports) {
    if (need(draft, 'port', p).direction !== direction) throw new Refusal('badArguments', `“${draft.port[p].name}” is not a port ${direction}`, [p])
  }
}

import { z } from 'zod'
import { peekRows } from '../session/draft'
import { CableRow } from '../session/rows'
import type { Session } from '../session/session'
import { change, defineEdit, need, put } from './edit'

const end = z.union([z.object({ port: z.string() }), z.object({ unit: z.string(), jack: z.number().int().min(0) })])

const endName = (s: Session, e: z.output<typeof end>) => ('port' in e ? s.port[e.port]?.name : s.unit[e.unit]?.name)

const plugName = (s: Session, port: string | null, unit: string | null) =>
  (s.port[port ?? ''] ?? s.unit[unit ?? ''])?.name

/** Plugs a cable. Whatever was in the jack it goes into is pulled: a jack takes one plug. */
export const addCable = defineEdit({
  verb: 'addCable',
  args: z.object({ id: z.string(), rig: z.string(), from: end, to: end }),
  label: (s, a) => `Cable ${endName(s, a.from)} → ${endName(s, a.to)}`,
  apply(draft, { id, rig, from, to }) {
    need(draft, 'rig', rig)
    for (const e of [from, to]) 'port' in e ? need(draft, 'port', e.port) : need(draft, 'unit', e.unit)
    const row = CableRow.parse({
      id,
      rig,
      ...('port' in from ? { fromPort: from.port } : { fromUnit: from.unit, fromJack: from.jack }),
      ...('port' in to ? { toPort: to.port } : { toUnit: to.unit, toJack: to.jack })
    })
    for (const c of peekRows(draft, 'cable')) {
      if (c.toPort === row.toPort && c.toUnit === row.toUnit && c.toJack === row.toJack) delete draft.cable[c.id]
    }
    put(draft, 'cable', row)
  }
})

const cableName = (s: Session, id: string) => {
  const c = s.cable[id]
  return c ? `cable ${plugName(s, c.fromPort, c.fromUnit)} → ${plugName(s, c.toPort, c.toUnit)}` : 'cable'
}

/** A cable whose ends are wired the other way round turns what it carries. */
export const setCable = defineEdit({
  verb: 'setCable',
  args: z.object({ id: z.string(), fields: z.object({ inverts: z.boolean() }) }),
  label: (s, a) => `${a.fields.inverts ? 'Turned' : 'Straight'} ${cableName(s, a.id)}`,
  apply(draft, { id, fields }) {
    change(draft, 'cable', id, fields)
  }
})

export const removeCable = defineEdit({
  verb: 'removeCable',
  args: z.object({ id: z.string() }),
  label: (s, a) => `Remove ${cableName(s, a.id)}`,
  apply(draft, { id }) {
    need(draft, 'cable', id)
    delete draft.cable[id]
  }
})

import { z } from 'zod'
import { cableName } from '../graph/cables'
import { peekRows } from '../session/draft'
import { CableRow, type Cable } from '../session/rows'
import type { Session } from '../session/session'
import { change, defineEdit, need, put } from './edit'

const end = z.union([z.object({ port: z.string() }), z.object({ unit: z.string(), jack: z.number().int().min(0) })])

const endWord = (s: Session, e: z.output<typeof end>) => ('port' in e ? s.port[e.port]?.name : s.unit[e.unit]?.name)

/**
 * Plugs a cable; whatever was plugged into the jack it goes into is pulled: a jack takes one plug. Or normals a jack to
 * another, in place of what it was normalled to; or makes a route inside an interface.
 */
export const addCable = defineEdit({
  verb: 'addCable',
  args: z.object({
    id: z.string(),
    rig: z.string(),
    from: end,
    to: end,
    normalled: z.enum(['half', 'full']).optional(),
    inside: z.boolean().optional(),
    levelDb: z.number().nullable().optional()
  }),
  label: (s, { from, to, normalled, inside }) =>
    `${inside ? 'Route' : normalled ? 'Normal' : 'Cable'} ${endWord(s, from)} → ${endWord(s, to)}`,
  apply(draft, { id, rig, from, to, ...rest }) {
    need(draft, 'rig', rig)
    for (const e of [from, to]) 'port' in e ? need(draft, 'port', e.port) : need(draft, 'unit', e.unit)
    const row = CableRow.parse({
      id,
      rig,
      ...rest,
      ...('port' in from ? { fromPort: from.port } : { fromUnit: from.unit, fromJack: from.jack }),
      ...('port' in to ? { toPort: to.port } : { toUnit: to.unit, toJack: to.jack })
    })
    // Plugs give way to plugs, normals to normals; routes are added up.
    const sameKind = (c: Cable) => !c.inside && !row.inside && (c.normalled === null) === (row.normalled === null)
    for (const c of peekRows(draft, 'cable')) {
      const sameJack = c.toPort === row.toPort && c.toUnit === row.toUnit && c.toJack === row.toJack
      if (sameJack && sameKind(c)) delete draft.cable[c.id]
    }
    put(draft, 'cable', row)
  }
})

const nameOf = (s: Session, id: string) => {
  const c = s.cable[id]
  return `${c?.inside ? 'route' : 'cable'} ${c ? cableName(s, c) : ''}`.trim()
}
const SAID: readonly [(fields: CableChange) => boolean, (name: string, fields: CableChange) => string][] = [
  [f => f.inverts !== undefined, (name, { inverts }) => `${inverts ? 'Turned' : 'Straight'} ${name}`],
  [f => f.normalled !== undefined, (name, { normalled }) => `${normalled ? 'Normalled' : 'Plugged'}: ${name}`],
  [() => true, name => `Level of ${name}`]
]
type CableChange = z.output<typeof CableFields>
const CableFields = z
  .object({ inverts: z.boolean(), normalled: z.enum(['half', 'full']).nullable(), levelDb: z.number().nullable() })
  .partial()

/**
 * Changes what a cable is beside its ends: crossed wires turn what it carries, a normalled one gives way to plugs, a
 * route inside an interface has a level.
 */
export const setCable = defineEdit({
  verb: 'setCable',
  args: z.object({ id: z.string(), fields: CableFields }),
  label: (s, { id, fields }) => SAID.find(([is]) => is(fields))![1](nameOf(s, id), fields),
  apply(draft, { id, fields }) {
    change(draft, 'cable', id, fields)
  }
})

export const removeCable = defineEdit({
  verb: 'removeCable',
  args: z.object({ id: z.string() }),
  label: (s, a) => `Remove ${nameOf(s, a.id)}`,
  apply(draft, { id }) {
    need(draft, 'cable', id)
    delete draft.cable[id]
  }
})

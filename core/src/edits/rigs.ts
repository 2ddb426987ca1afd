// What belongs to a room as a whole: its name, what it holds, its end.
import { z } from 'zod'
import { canonical } from '../foundation/hash'
import { Refusal } from '../foundation/refusal'
import { peekRows } from '../session/draft'
import { RIG_TABLES } from '../session/rigDocument'
import { rowsOfRig } from '../session/rigRows'
import { RigRow } from '../session/rows'
import { byOrder, makeRow, rows, type Session } from '../session/session'
import { defineEdit, need } from './edit'

/** Ports that loops or feeds name. */
const usedPorts = (session: Session): Set<string> =>
  new Set([
    ...peekRows(session, 'loop').flatMap(l => [...l.outPorts, ...l.inPorts]),
    ...peekRows(session, 'feed').flatMap(f => f.ports)
  ])

/** Renames a rig, orders it, or says which entry of the library it follows. */
export const setRig = defineEdit({
  verb: 'setRig',
  args: z.object({
    id: z.string(),
    fields: z.object({ name: z.string(), order: z.string(), entry: z.string().nullable() }).partial()
  }),
  label: (s, { id, fields }) =>
    fields.name === undefined ? `Rig “${s.rig[id]?.name}”` : `Rename rig “${s.rig[id]?.name}” to “${fields.name}”`,
  apply(draft, { id, fields }) {
    draft.rig[id] = RigRow.parse({ ...need(draft, 'rig', id), ...fields })
  }
})

/** Takes a rig away with all that is in it and the loops that nothing holds. Refused while channels use it. */
export const removeRig = defineEdit({
  verb: 'removeRig',
  args: z.object({ id: z.string() }),
  label: (s, a) => `Remove rig “${s.rig[a.id]?.name}”`,
  apply(draft, { id }) {
    const rig = need(draft, 'rig', id)
    const own = rowsOfRig(draft, id)
    const ports = new Set(own.port.map(p => p.id))
    const loops = rows(draft, 'loop').filter(l => l.rig === id)
    const holders = [
      ...rows(draft, 'slot').flatMap(s => (loops.some(l => l.id === s.loop) ? [s.channel] : [])),
      ...rows(draft, 'feed').flatMap(f => (f.ports.some(p => ports.has(p)) ? [f.from ?? f.to ?? ''] : []))
    ]
    if (holders.length) {
      const names = [...new Set(holders)].map(c => `“${draft.channel[c]?.name ?? c}”`).join(', ')
      throw new Refusal(
        'badArguments',
        `“${rig.name}” is used by ${names}: remove their loops and port feeds first. It was kept.`,
        [id, ...holders]
      )
    }
    for (const l of loops) delete draft.loop[l.id]
    for (const table of RIG_TABLES) for (const { id } of own[table]) delete draft[table][id]
    delete draft.rig[id]
    const session = need(draft, 'session', 'session')
    if (session.rig === id) session.rig = rows(draft, 'rig').sort(byOrder)[0]?.id ?? null
  }
})

/** Makes what a rig holds the same as these rows. Ports that are in use stay, also where the rows lack them. */
export const matchRig = defineEdit({
  verb: 'matchRig',
  args: z.object({
    id: z.string(),
    from: z.string().max(300),
    rows: z.array(z.object({ table: z.enum(RIG_TABLES), row: z.record(z.string(), z.any()) })).max(20000)
  }),
  label: (s, a) => `Make rig “${s.rig[a.id]?.name}” as “${a.from}” is`,
  apply(draft, { id, rows: wanted }) {
    need(draft, 'rig', id)
    const own = rowsOfRig(draft, id),
      used = usedPorts(draft)
    const mine = new Set(RIG_TABLES.flatMap(t => own[t].map(r => `${t} ${r.id}`)))
    const coming = wanted.map(({ table, row }) => ({ table, row: makeRow(table, row) }))
    const stays = new Set(coming.map(({ table, row }) => `${table} ${row.id}`))
    for (const port of own.port) if (used.has(port.id)) stays.add(`port ${port.id}`).add(`interface ${port.interface}`)
    for (const table of RIG_TABLES)
      for (const { id } of own[table]) if (!stays.has(`${table} ${id}`)) delete draft[table][id]
    for (const { table, row } of coming) {
      const there = (draft[table] as Record<string, unknown>)[row.id]
      if (there && !mine.has(`${table} ${row.id}`))
        throw new Refusal('idTaken', `There is a ${table} with the id “${row.id}” in another rig`, [row.id])
      if (!there || canonical(there) !== canonical(row)) (draft[table] as Record<string, unknown>)[row.id] = row
    }
  }
})

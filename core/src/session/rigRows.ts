// The rows of one rig in a session, and their ids inside and outside of it.
import { RIG_TABLES, THE_RIG, type RigTable } from './rigDocument'
import type { Row } from './rows'
import { byId, rows, type Session } from './session'

export type RigRows = { [T in RigTable]: Row<T>[] }

/** Interfaces, ports, units and cables of a rig, by id. */
export function rowsOfRig(session: Session, rig: string): RigRows {
  const of = <T extends RigTable>(table: T, isOurs: (row: Row<T>) => boolean) =>
    rows(session, table).filter(isOurs).sort(byId)
  return {
    interface: of('interface', i => i.rig === rig),
    port: of('port', p => session.interface[p.interface]?.rig === rig),
    unit: of('unit', u => u.rig === rig),
    cable: of('cable', c => c.rig === rig)
  }
}

/** The same rows with other ids, wherever one of them names another. */
export function renamed(all: RigRows, rig: string, id: (old: string) => string): RigRows {
  const or = (old: string | null) => (old === null ? null : id(old))
  return {
    interface: all.interface.map(i => ({ ...i, id: id(i.id), rig })),
    port: all.port.map(p => ({ ...p, id: id(p.id), interface: id(p.interface) })),
    unit: all.unit.map(u => ({ ...u, id: id(u.id), rig })),
    cable: all.cable.map(
      c =>
        ({
          ...c,
          id: id(c.id),
          rig,
          fromPort: or(c.fromPort),
          fromUnit: or(c.fromUnit),
          toPort: or(c.toPort),
          toUnit: or(c.toUnit)
        }) as Row<'cable'>
    )
  }
}

/** Ids without that of their rig before them; as they are where two would be the same without. */
export function localIds(all: RigRows, rig: string): (id: string) => string {
  const strip = (id: string) => (id.startsWith(`${rig}-`) ? id.slice(rig.length + 1) : id)
  const ids = RIG_TABLES.flatMap(t => all[t].map(r => r.id))
  return new Set(ids.map(strip)).size === ids.length ? strip : id => id
}

/** A rig as the rows of a document. What players play and what is to be put back stays with the session. */
export function outside(session: Session, rig: string): RigRows {
  const all = rowsOfRig(session, rig)
  const rigRows = renamed(all, THE_RIG, localIds(all, rig))
  return { ...rigRows, unit: rigRows.unit.map(u => ({ ...u, plays: null, putBack: {} })) }
}

/** Rows of a document in a session: those that the rig has already keep their ids there. */
export function inside(document: RigRows, session: Session, rig: string): RigRows {
  const all = rowsOfRig(session, rig),
    local = localIds(all, rig)
  const known = new Map(RIG_TABLES.flatMap(t => all[t].map(r => [local(r.id), r.id])))
  const rigRows = renamed(document, rig, id => known.get(id) ?? `${rig}-${id}`)
  return { ...rigRows, unit: rigRows.unit.map(u => ({ ...u, ...ownOf(session.unit[u.id]) })) }
}
const ownOf = (unit: Row<'unit'> | undefined) => ({ plays: unit?.plays ?? null, putBack: unit?.putBack ?? {} })

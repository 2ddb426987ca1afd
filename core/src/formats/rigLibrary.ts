// An entry of the rig library and a session: laying it there, and what differs between the two.
import { applyEdit } from '../edits/apply'
import { changeWords } from '../edits/changeWords'
import type { EditMessage } from '../session/editMessage'
import { RIG_TABLES, type RigDocument } from '../session/rigDocument'
import { inside } from '../session/rigRows'
import { rows, settings, type Session } from '../session/session'

const listed = (all: ReturnType<typeof inside>) =>
  RIG_TABLES.flatMap(table => all[table].map(row => ({ table, row: row as Record<string, unknown> })))

/**
 * The edit that copies an entry into a session as a new rig; a session without one works in it from then on.
 * @param id of the rig that is made · @param order among the others
 */
export function layRig(document: RigDocument, entry: string, session: Session, id: string, order: string): EditMessage {
  const label = `Rig “${document.name}”`
  const own = [
    { table: 'rig', row: { id, name: document.name, order, entry } },
    ...listed(inside(document.rows, session, id))
  ]
  const edits = [
    { verb: 'addRows', args: { label, rows: own } },
    ...(settings(session).rig ? [] : [{ verb: 'setSession', args: { rig: id } }])
  ]
  return { verb: 'several', args: { label, edits } }
}

export interface RigDifference {
  /** What would change here to be as the entry is, a line a row; none where both are alike. */
  lines: string[]
  /** Ports that the entry lacks and that are kept because something here uses them. */
  kept: string[]
  takeOver: EditMessage
}

/** @throws Refusal where the entry cannot stand here, which says why */
export function rigDifference(document: RigDocument, session: Session, rig: string): RigDifference {
  const all = inside(document.rows, session, rig)
  const takeOver = { verb: 'matchRig', args: { id: rig, from: document.name, rows: listed(all) } }
  const { changes } = applyEdit(session, takeOver)
  const wanted = new Set(all.port.map(p => p.id))
  return {
    lines: changeWords(session, changes),
    kept: rows(session, 'port')
      .filter(p => session.interface[p.interface]?.rig === rig && !wanted.has(p.id))
      .filter(p => !changes.some(c => c.table === 'port' && c.id === p.id && c.after === null))
      .map(p => p.name),
    takeOver
  }
}

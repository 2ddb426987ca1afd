// A rig as it is taken from a session and read from text.
import { explain } from '../foundation/explain'
import { Refusal } from '../foundation/refusal'
import { firstBreach } from '../invariants'
import { RIG_DOCUMENT_VERSION, RIG_TABLES, RigDocument, THE_RIG, type RigTable } from '../session/rigDocument'
import { outside } from '../session/rigRows'
import type { TableName } from '../session/rows'
import { emptySession, makeRow, type Session } from '../session/session'

export const takeRig = (session: Session, rig: string, name: string): RigDocument =>
  RigDocument.parse({ nulletRig: RIG_DOCUMENT_VERSION, name, rows: outside(session, rig) })

/** @throws Refusal that says what is wrong with the file */
export function readRig(text: string): RigDocument {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    throw new Refusal('badArguments', 'This is not a rig: it is not JSON')
  }
  const parsed = RigDocument.safeParse(json)
  if (!parsed.success) throw new Refusal('badArguments', `This rig cannot be read: ${explain(parsed.error)}`)
  const fault = faultOf(parsed.data)
  if (fault) throw new Refusal('badArguments', `This rig cannot be read: ${fault}`)
  return parsed.data
}

/** What would be wrong with a session that held it. */
function faultOf({ name, rows }: RigDocument): string | null {
  const session = emptySession(name)
  session.rig[THE_RIG] = makeRow('rig', { id: THE_RIG, name })
  for (const table of RIG_TABLES)
    for (const row of rows[table]) {
      if (has(session, table, row.id)) return `two of its ${table}s have the id “${row.id}”`
      ;(session[table] as Record<string, unknown>)[row.id] = row
    }
  return firstBreach(session)?.message ?? null
}

const has = (session: Session, table: RigTable, id: string) => id in session[table as TableName]

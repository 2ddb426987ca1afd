// Rows of a session, read and written by table. Column names are the fields' names with underscores. Many rows go in
// one statement: what an edit of ten thousand rows costs is the rows, not the way to the database.
import postgres from 'postgres'
import { TABLE_NAMES, shapeOf, type TableName } from '@nullet/core/session/rows'
import { asSession, type RowChange, type Session } from '@nullet/core/session/session'
import type { Sql, Transaction } from './connect'

type Fields = Record<string, unknown>

/** Rows a statement: a statement's text stays within some megabytes. */
const PORTION = 1000

const column = postgres.fromCamel

/** A row as the columns of its table. */
const stored = (session: string, row: Fields): Fields => ({
  session_id: session,
  ...Object.fromEntries(Object.entries(row).map(([field, value]) => [column(field), value]))
})

const quoted = (name: string) => `"${name}"`

/** The statement that puts rows in or in the place of those that are there. All names come from the schema. */
function upsert(table: TableName): string {
  const columns = ['session_id', ...Object.keys(shapeOf(table)).map(column)]
  const list = columns.map(quoted).join(', ')
  const moved = columns
    .slice(2)
    .map(c => `${quoted(c)} = excluded.${quoted(c)}`)
    .join(', ')
  return `insert into ${quoted(table)} (${list}) select ${list}
    from jsonb_populate_recordset(null::${quoted(table)}, $1::text::jsonb)
    on conflict (session_id, id) do ${moved ? `update set ${moved}` : 'nothing'}`
}
const UPSERTS = new Map(TABLE_NAMES.map(t => [t, upsert(t)]))

function* portions<T>(list: readonly T[]): Iterable<T[]> {
  for (let at = 0; at < list.length; at += PORTION) yield list.slice(at, at + PORTION)
}

/** Writes what an edit changed. Order does not matter: references are checked when the transaction ends. */
export async function writeChanges(sql: Transaction, session: string, changes: readonly RowChange[]): Promise<void> {
  for (const table of TABLE_NAMES) {
    const own = changes.filter(c => c.table === table)
    // What goes leaves its place before something else takes it.
    for (const gone of portions(own.filter(c => c.after === null))) {
      await sql`delete from ${sql(table)} where session_id = ${session} and id = any(${gone.map(c => c.id)})`
    }
    for (const put of portions(own.filter(c => c.after !== null))) {
      await sql.unsafe(UPSERTS.get(table)!, [JSON.stringify(put.map(c => stored(session, c.after as Fields)))])
    }
  }
}

export async function readSession(sql: Sql | Transaction, session: string): Promise<Session | null> {
  const tables = await Promise.all(
    TABLE_NAMES.map(t => sql<Fields[]>`select * from ${sql(t)} where session_id = ${session}`)
  )
  const result = asSession({})
  TABLE_NAMES.forEach((table, i) => {
    const into = result[table] as Record<string, unknown>
    for (const { sessionId: _, ...row } of tables[i]!) into[row.id as string] = fieldsInOrder(table, row)
  })
  return result.session.session ? result : null
}

/** The order of the schema, so that a row reads the same wherever it has been. */
const fieldsInOrder = (table: TableName, row: Fields): Fields =>
  Object.fromEntries(Object.keys(shapeOf(table)).map(k => [k, row[k] ?? null]))

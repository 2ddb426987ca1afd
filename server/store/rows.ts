// Rows of a session, read and written by table. Column names are the fields' names with underscores.
import { TABLES, TABLE_NAMES, type TableName } from '@nullet/core/session/rows'
import { emptySession, type RowChange, type Session } from '@nullet/core/session/session'
import type { Sql, Transaction } from './connect'

/** Fields that hold lists or objects. */
const JSON_FIELDS: Partial<Record<TableName, string[]>> = {
  channel: ['layout', 'flippedLegs', 'mutedLegs'], clip: ['legMap'], feed: ['ports'], slot: ['params', 'kept'],
  interface: ['sampleRates'], unit: ['settings'], loop: ['outPorts', 'inPorts', 'ping'], print: ['parts', 'notes'],
  session: ['families', 'tempo'], link: ['members'], envelope: ['points'], phrase: ['notes']
}

type Fields = Record<string, unknown>

function stored(sql: Sql | Transaction, table: TableName, session: string, row: Fields): Fields {
  const out: Fields = { sessionId: session, ...row }
  for (const field of JSON_FIELDS[table] ?? []) {
    if (out[field] !== undefined && out[field] !== null) out[field] = sql.json(out[field] as never)
  }
  return out
}

/** Writes what an edit changed. Order does not matter: references are checked when the transaction ends. */
export async function writeChanges(sql: Transaction, session: string, changes: RowChange[]): Promise<void> {
  const inserts = new Map<TableName, Fields[]>()
  for (const { table, id, before, after } of changes) {
    if (after === null) await sql`delete from ${sql(table)} where session_id = ${session} and id = ${id}`
    else if (before === null) {
      if (!inserts.has(table)) inserts.set(table, [])
      inserts.get(table)!.push(stored(sql, table, session, after as Fields))
    } else {
      const old = before as Fields
      const moved = Object.fromEntries(Object.entries(after as Fields).filter(([k, v]) => JSON.stringify(v) !== JSON.stringify(old[k])))
      if (Object.keys(moved).length) {
        const { sessionId: _, ...set } = stored(sql, table, session, moved)
        await sql`update ${sql(table)} set ${sql(set as never)} where session_id = ${session} and id = ${id}`
      }
    }
  }
  for (const [table, rows] of inserts) {
    for (let at = 0; at < rows.length; at += 500) await sql`insert into ${sql(table)} ${sql(rows.slice(at, at + 500) as never)}`
  }
}

export async function readSession(sql: Sql | Transaction, session: string): Promise<Session | null> {
  const result = emptySession('x')
  const tables = await Promise.all(TABLE_NAMES.map(t => sql<Fields[]>`select * from ${sql(t)} where session_id = ${session}`))
  TABLE_NAMES.forEach((table, i) => {
    result[table] = {} as never
    for (const { sessionId: _, ...row } of tables[i]) (result[table] as Fields)[row.id as string] = fieldsInOrder(table, row)
  })
  return result.session.session ? result : null
}

/** The order of the schema, so that a row reads the same wherever it has been. */
function fieldsInOrder(table: TableName, row: Fields): Fields {
  const schema = TABLES[table] as unknown as { shape?: Fields, in?: { shape: Fields } }
  return Object.fromEntries(Object.keys(schema.shape ?? schema.in!.shape).map(k => [k, row[k] ?? null]))
}

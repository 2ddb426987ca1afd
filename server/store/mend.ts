// Sessions from before a rule was made one: brought in order just before the database itself begins to hold it.
import postgres from 'postgres'
import { firstBreach, mended } from '@nullet/core/invariants/index'
import { changesHash } from '@nullet/core/session/changesHash'
import { shapeOf, TABLES, TABLE_NAMES, type TableName } from '@nullet/core/session/rows'
import { asSession, difference, type RowChange, type Session } from '@nullet/core/session/session'
import type { Transaction } from './connect'

type Fields = Record<string, unknown>

/** What was mended, as sentences that name the session. */
export async function mendSessions(t: Transaction): Promise<string[]> {
  const notes: string[] = []
  for (const { id, revision } of await t<
    { id: string; revision: number }[]
  >`select id, revision from session_head order by id`) {
    const before = await readAsItIs(t, id)
    if (!firstBreach(before)) continue
    const { session, notes: done } = mended(before)
    const left = firstBreach(session)
    if (left) throw new Error(`the session “${id}” breaks a rule that could not be mended: ${left.message}`)
    const changes = difference(before, session)
    await writeAsItIs(t, id, changes)
    const label = `Brought in order: ${done[0]}${done.length > 1 ? ` and ${done.length - 1} more` : ''}`.slice(0, 320)
    await t`insert into edit_log ${t({ sessionId: id, revision: revision + 1, label, gesture: `mended-${revision + 1}`, client: '', changes: t.json(changes as never), hash: changesHash(changes) })}`
    await t`update session_head set revision = ${revision + 1} where id = ${id}`
    notes.push(...done.map(n => `session “${id}”: ${n}`))
  }
  // What is put off to the end would keep the tables from being altered.
  await t`set constraints all immediate`
  return notes
}

/** Rows with the tables and columns that the database has now; what came later is empty or has its default. */
async function readAsItIs(t: Transaction, id: string): Promise<Session> {
  const tables: Partial<Record<TableName, Fields>> = {}
  const there = new Set([...(await fieldsNow(t))].map(field => field.slice(0, field.indexOf('.'))))
  for (const table of TABLE_NAMES.filter(name => there.has(name))) {
    const rows = await t<Fields[]>`select * from ${t(table)} where session_id = ${id}`
    tables[table] = Object.fromEntries(
      rows.map(({ sessionId: _, ...row }) => {
        const known = Object.fromEntries(
          Object.keys(shapeOf(table))
            .filter(k => row[k] !== undefined)
            .map(k => [k, row[k]])
        )
        const parsed = TABLES[table].safeParse(known)
        return [row.id as string, parsed.success ? parsed.data : known]
      })
    )
  }
  return asSession(tables as Partial<Session>)
}

/** `table.field` of every column that there is now: what a later file adds has its default from there. */
async function fieldsNow(t: Transaction): Promise<Set<string>> {
  const all = await t<
    { table: string; column: string }[]
  >`select table_name as table, column_name as column from information_schema.columns
    where table_schema = current_schema()`
  return new Set(all.map(c => `${c.table}.${postgres.toCamel(c.column)}`))
}

/** One row a statement and only what moved: this runs once in a database's life, on whatever columns there are. */
async function writeAsItIs(t: Transaction, session: string, changes: RowChange[]): Promise<void> {
  const fields = await fieldsNow(t)
  const json = (row: Fields) =>
    Object.fromEntries(
      Object.entries(row).map(([k, v]) => [k, typeof v === 'object' && v !== null ? t.json(v as never) : v])
    )
  for (const change of changes) {
    const { table, id } = change
    const known = (row: Fields | null) =>
      row && Object.fromEntries(Object.entries(row).filter(([k]) => fields.has(`${table}.${k}`)))
    const [before, after] = [known(change.before as Fields | null), known(change.after as Fields | null)]
    if (after === null) {
      await t`delete from ${t(table)} where session_id = ${session} and id = ${id}`
      continue
    }
    if (before === null) {
      await t`insert into ${t(table)} ${t({ sessionId: session, ...json(after) } as never)}`
      continue
    }
    const moved = Object.fromEntries(
      Object.entries(after).filter(([k, v]) => JSON.stringify(v) !== JSON.stringify(before[k]))
    )
    if (Object.keys(moved).length)
      await t`update ${t(table)} set ${t(json(moved) as never)} where session_id = ${session} and id = ${id}`
  }
}

// Every row fits its table: known fields, each in its range, text that can be kept, an id of the right letters, under
// its own id.
import type { z } from 'zod'
import { explain } from '../foundation/explain'
import { dictionary, dictionaryBy } from '../foundation/dictionary'
import { isId } from '../session/ids'
import { emptySession, rows, type Session } from '../session/session'
import { shapeOf, TABLES, TABLE_NAMES, type TableName } from '../session/rows'
import { keepable, unkeepablePath } from '../foundation/text'
import { withoutOddIds } from './oddIds'
import { defineRule, type Breach } from './rule'
import { capital, rowWords } from './words'

type Fields = Record<string, unknown> & { id: string }

/** What is wrong with a row by itself, or null. */
function rowFault(table: TableName, id: string, row: unknown): string | null {
  if (typeof row !== 'object' || row === null || Array.isArray(row)) return 'it is not a row'
  const fields = row as Fields
  if (fields.id !== id)
    return typeof fields.id === 'string' ? `its id is “${keepable(fields.id).slice(0, 80)}”` : 'it has no id'
  const shape = shapeOf(table)
  const odd = Object.keys(fields).find(k => !Object.hasOwn(shape, k))
  if (odd) return `it has a field “${odd}” that is not known; its fields are ${Object.keys(shape).join(', ')}`
  const missing = Object.keys(shape).find(k => fields[k] === undefined)
  if (missing) return `it lacks the field “${missing}”`
  const parsed = TABLES[table].safeParse(row)
  if (!parsed.success) return explain(parsed.error)
  const path = unkeepablePath(row)
  return path ? `${path} holds a character that cannot be kept` : null
}

function breach(table: TableName, id: string, row: unknown, fault: string): Breach {
  const name = (row as { name?: unknown } | null)?.name
  const called = keepable(typeof name === 'string' && name ? name : id).slice(0, 80)
  return { kind: 'badArguments', message: `The ${table} “${called}”: ${fault}`, about: isId(id) ? [id] : [] }
}

export const rowsFit = defineRule({
  says: 'every row fits its table',
  depends: Object.fromEntries(TABLE_NAMES.map(t => [t, 'all'])),
  *find({ session, keyed }) {
    if (!session.session.session)
      yield { kind: 'badArguments', message: 'A session cannot be without its settings', about: ['session'] }
    for (const table of TABLE_NAMES) {
      for (const [id, row] of keyed(table)) {
        const fault = rowFault(table, id, row)
        if (fault) yield breach(table, id, row, fault)
      }
    }
  },
  mend: session => [
    ...withSettings(session),
    ...TABLE_NAMES.flatMap(table => underOwnId(session, table)),
    ...renamed(session),
    ...TABLE_NAMES.flatMap(table => refitted(session, table))
  ]
})

function withSettings(session: Session): string[] {
  if (session.session.session) return []
  session.session = emptySession('Session').session
  return ['The session had no settings and has new ones']
}

/** A row lies under its own id. */
function underOwnId(session: Session, table: TableName): string[] {
  const list = session[table] as unknown as Record<string, Fields>
  return Object.entries(list)
    .filter(([id, row]) => row.id !== id)
    .map(([id, row]) => {
      delete list[id]
      if (typeof row.id === 'string' && !list[row.id]) list[row.id] = row
      return `A ${table} lay under the id “${keepable(id)}”, which is not its own`
    })
}

function renamed(session: Session): string[] {
  const { lists, notes } = withoutOddIds(Object.fromEntries(TABLE_NAMES.map(t => [t, rows(session, t)])))
  if (notes.length)
    for (const table of TABLE_NAMES) session[table] = dictionaryBy(lists[table] as Fields[], row => row.id) as never
  return notes
}

/** Fields that do not fit go to the nearest value that does, or to their default; a row that cannot be saved goes. */
function refitted(session: Session, table: TableName): string[] {
  const shape = shapeOf(table),
    list = session[table] as unknown as Record<string, Fields>
  return rows(session, table).flatMap(r => {
    const row = r as unknown as Fields
    const fault = rowFault(table, row.id, row)
    if (!fault) return []
    const words = capital(rowWords(session, table, row))
    const plain = JSON.parse(JSON.stringify(row), (_, v) => (typeof v === 'string' ? keepable(v) : v)) as Fields
    const next = dictionary<unknown>()
    for (const [field, schema] of Object.entries(shape)) next[field] = fitting(schema, plain[field])
    const parsed = TABLES[table].safeParse({ ...next })
    if (!parsed.success) {
      delete list[row.id]
      return [`${words} was left out: ${fault}`]
    }
    list[row.id] = parsed.data as unknown as Fields
    return [`${words} was brought into range: ${fault}`]
  })
}

/** The value if it fits, else the nearest edge of its range, else what the field begins with. */
function fitting(schema: z.ZodType, value: unknown): unknown {
  const parsed = schema.safeParse(value)
  if (parsed.success) return parsed.data
  const [issue] = parsed.error.issues as (z.core.$ZodIssue & { maximum?: number; minimum?: number })[]
  if (typeof value === 'number') {
    for (const edge of [Math.round(value), issue?.code === 'too_big' ? issue.maximum : issue?.minimum]) {
      if (edge !== undefined && schema.safeParse(edge).success) return edge
    }
  }
  if (typeof value === 'string' && issue?.code === 'too_big' && schema.safeParse(value.slice(0, issue.maximum)).success)
    return value.slice(0, issue.maximum)
  return schema.safeParse(undefined).data
}

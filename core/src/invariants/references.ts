// What a row names is there.
import { capital, rowWords } from './words'
import { defineRule, type Breach } from './rule'
import { REFERENCES, rows, type Session } from '../session/session'
import { shapeOf, TABLE_NAMES, type TableName } from '../session/rows'

type Fields = Record<string, unknown> & { id: string }

/** Tables whose rows are named by others. */
const NAMED = new Set(Object.values(REFERENCES).flatMap(fields => Object.values(fields)))
const REFERRING = Object.entries(REFERENCES) as [TableName, Record<string, TableName>][]

/** Every name in a row that stands for nothing. */
function* loose(
  session: Session,
  table: TableName,
  row: Fields
): Iterable<{ field: string; missing: string; target: TableName }> {
  for (const [field, target] of Object.entries(REFERENCES[table] ?? {})) {
    const value = row[field]
    for (const one of Array.isArray(value) ? value : [value]) {
      if (one !== null && one !== undefined && !((one as string) in session[target]))
        yield { field, missing: one as string, target }
    }
  }
}

export const references = defineRule({
  says: 'what a row names is there',
  depends: Object.fromEntries(
    TABLE_NAMES.filter(t => NAMED.has(t) || t in REFERENCES).map(t => [t, Object.keys(REFERENCES[t] ?? {})])
  ),
  *find({ session }) {
    for (const [table] of REFERRING) {
      for (const row of rows(session, table) as unknown as Fields[]) {
        for (const { field, missing, target } of loose(session, table, row)) {
          yield {
            kind: 'notFound',
            about: [row.id, missing],
            message: `${capital(rowWords(session, table, row))} (${table} “${row.id}”) names the ${target} “${missing}” in its field ${field}; there is none`
          } satisfies Breach
        }
      }
    }
  },
  mend: session =>
    REFERRING.flatMap(([table]) =>
      (rows(session, table) as unknown as Fields[]).flatMap(row => unnamed(session, table, row))
    )
})

/** The row without the names that stand for nothing; gone where it cannot be without. */
function unnamed(session: Session, table: TableName, row: Fields): string[] {
  const found = [...loose(session, table, row)]
  if (!found.length) return []
  const words = capital(rowWords(session, table, row)),
    list = session[table] as unknown as Record<string, Fields>
  const gone = new Set(found.map(f => f.missing)),
    next = { ...row }
  for (const { field } of found)
    next[field] = Array.isArray(row[field]) ? row[field].filter(one => !gone.has(one as string)) : null
  const stays = found.every(({ field }) => shapeOf(table)[field]!.safeParse(next[field]).success)
  if (stays) list[row.id] = next
  else delete list[row.id]
  return [
    `${words} named “${found[0]!.missing}”, which is not there, and ${stays ? 'does so no more' : 'was left out'}`
  ]
}

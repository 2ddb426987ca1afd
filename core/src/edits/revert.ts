import { isDraft, original } from 'immer'
import { z } from 'zod'
import { canonical } from '../foundation/hash'
import { Refusal } from '../foundation/refusal'
import { rowWords } from '../invariants/words'
import { makeRow, REFERENCES, rows, type Session } from '../session/session'
import { shapeOf, TABLE_NAMES, type TableName } from '../session/rows'
import { defineEdit } from './edit'

type Fields = Record<string, unknown>

const Row = z.record(z.string(), z.any()).nullable()
const Change = z
  .object({ table: z.enum(TABLE_NAMES as [TableName, ...TableName[]]), id: z.string(), before: Row, after: Row })
  .refine(c => c.before !== null || c.after !== null, 'a change has a row before it or after it')

/**
 * Undo and redo: applies row changes by field. Refused only where the same field has moved on since, so that somebody
 * else's work on other fields stays; a row that goes must be as it was, with nothing built on it.
 */
export const revert = defineEdit({
  verb: 'revert',
  args: z.object({ label: z.string().max(320), changes: z.array(Change) }),
  label: (_, a) => a.label,
  apply(draft, { label, changes }) {
    // What was there is read from the original: reading it through the draft would make a proxy of every row.
    const before = (isDraft(draft) ? original(draft) : draft) as Session
    const gone = changes.filter(c => c.after === null)
    for (const change of changes) put(draft, before, label, change)
    if (gone.length) standing(draft, before, label, gone)
  }
})

/** One row as it is to be. */
function put(
  draft: Session,
  there: Session,
  label: string,
  { table, id, before, after }: z.output<typeof Change>
): void {
  const here = (there[table] as Record<string, Fields>)[id],
    into = draft[table] as Record<string, Fields>
  const moved = (what: string) => new Refusal('stale', `“${label}” cannot be taken back: ${what}`, [id])
  if (!before) {
    if (here) throw moved(`${rowWords(there, table, here as { id: string })} is there again`)
    into[id] = completed(table, after!) as Fields
    return
  }
  if (!here) throw moved(`the ${table} “${id}” is not there any more`)
  const fields = Object.keys(after ?? before)
  const other = fields.find(f => (after === null || !same(before[f], after[f])) && !same(here[f], before[f]))
  if (other) throw moved(`${other} of ${rowWords(there, table, here as { id: string })} has been changed again since`)
  if (!after) {
    delete into[id]
    return
  }
  into[id] = { ...here, ...Object.fromEntries(fields.filter(f => !same(before[f], after[f])).map(f => [f, after[f]])) }
}

/** A row that was kept before its table had all of its fields: what is new in it is as it is at first. */
const completed = (table: TableName, row: Fields): unknown =>
  Object.keys(shapeOf(table)).every(field => field in row) ? row : makeRow(table, row)

/** What would go must not carry anything that stays: work of others that was built on it since. */
function standing(draft: Session, before: Session, label: string, gone: { table: string; id: string }[]): void {
  const leaving = new Set(gone.map(c => `${c.table} ${c.id}`))
  for (const [table, fields] of Object.entries(REFERENCES) as [TableName, Record<string, TableName>][]) {
    const wanted = Object.entries(fields).filter(([, target]) => gone.some(c => c.table === target))
    if (!wanted.length || table === 'session') continue
    for (const row of rows(before, table) as unknown as (Fields & { id: string })[]) {
      if (!(row.id in draft[table])) continue
      const now = (draft[table] as Record<string, Fields>)[row.id]!
      for (const [field, target] of wanted) {
        const named = [now[field]].flat().find(one => typeof one === 'string' && leaving.has(`${target} ${one}`)) as
          string | undefined
        if (named === undefined) continue
        const base = (before[target] as Record<string, { id: string }>)[named]
        const what = base ? rowWords(before, target, base) : named
        throw new Refusal(
          'standsOn',
          `“${label}” cannot be taken back: ${rowWords(before, table, row)} stands on ${what}. Remove that first.`,
          [row.id, named]
        )
      }
    }
  }
}

const same = (a: unknown, b: unknown) => a === b || canonical(a) === canonical(b)

// The session package: one JSON document beside a folder of WAV files. Open, documented in docs/session-package.md.
// Every field but ids, names and kinds has a default, so that one can be written by hand.
import { z } from 'zod'
import { explain } from '../foundation/explain'
import { firstBreach, GENTLE, mended, STRICT } from '../invariants'
import { withoutOddIds, type Lists } from '../invariants/oddIds'
import { Refusal } from '../foundation/refusal'
import { shapeOf, TABLES, TABLE_NAMES, type TableName } from '../session/rows'
import { canonical } from '../foundation/hash'
import { isId } from '../session/ids'
import { keepable } from '../foundation/text'
import { byId, emptySession, rows, type Session } from '../session/session'

export const PACKAGE_VERSION = 1
/** Rows of all tables together. */
export const MOST_ROWS = 60_000

/** The document as it may be written: tables of rows, all optional. */
export const PackageDocument = z.strictObject({
  nullet: z.literal(PACKAGE_VERSION),
  session: TABLES.session,
  ...Object.fromEntries(TABLE_NAMES.filter(t => t !== 'session').map(t => [t, z.array(TABLES[t]).default([])]))
})

export interface ReadPackage {
  session: Session
  /** What was changed on the way in, as sentences. */ notes: string[]
}

const bad = (message: string, about: string[] = []) =>
  new Refusal('badPackage', message, about, 'Nothing was imported.')

/** @throws Refusal that names the row and what is wrong with it */
export function readPackage(text: string): ReadPackage {
  let document: Record<string, unknown>
  try {
    document = JSON.parse(text.replace(/^\ufeff/, ''))
  } catch (error) {
    throw bad(`session.json is not JSON: ${(error as Error).message}`)
  }
  if (
    typeof document !== 'object' ||
    document === null ||
    Array.isArray(document) ||
    document.nullet !== PACKAGE_VERSION
  ) {
    throw bad(
      `session.json does not say "nullet": ${PACKAGE_VERSION}: it is not a session package of a version known here`
    )
  }
  const known = new Set<string>(['nullet', ...TABLE_NAMES])
  const odd = Object.keys(document).find(k => !known.has(k))
  if (odd) throw bad(`session.json has a table “${odd}” that is not known; the tables are ${TABLE_NAMES.join(', ')}`)

  const session = emptySession('Session')
  const tables = TABLE_NAMES.filter(t => t !== 'session')
  const notLists = tables.find(t => document[t] !== undefined && !Array.isArray(document[t]))
  if (notLists) throw bad(`“${notLists}” must be a list of rows`)
  const count = tables.reduce((n, t) => n + ((document[t] as unknown[] | undefined)?.length ?? 0), 0)
  if (count > MOST_ROWS) throw bad(`session.json has ${count} rows; at most ${MOST_ROWS} are read`)
  const { lists, notes: renamed } = withoutOddIds({
    ...document,
    session: [(document.session ?? {}) as Record<string, unknown>]
  } as Lists)
  const sorted = inOrder(lists as Record<string, unknown>)
  session.session.session = parseRow('session', lists.session![0]) as Session['session'][string]
  for (const table of tables) {
    for (const fields of lists[table] ?? []) {
      const row = parseRow(table, fields)
      if (row.id in session[table]) throw bad(`Two rows of “${table}” have the id “${row.id}”`, [row.id])
      ;(session[table] as Record<string, unknown>)[row.id] = row
    }
  }
  const breach = firstBreach(session, STRICT)
  if (breach) throw bad(breach.message, breach.about)
  const { session: settled, notes } = mended(session, GENTLE)
  const left = firstBreach(settled, STRICT)
  if (left) throw bad(left.message, left.about)
  return { session: settled, notes: [...renamed, ...sorted, ...notes] }
}

/** Points that are not in order of time are put in order, and said so. */
function inOrder(document: Record<string, unknown>): string[] {
  if (!Array.isArray(document.envelope)) return []
  const notes: string[] = []
  document.envelope = document.envelope.map((e: { id?: string; points?: unknown }) => {
    const { points } = e
    if (!Array.isArray(points) || !points.every(p => Array.isArray(p) && typeof p[0] === 'number')) return e
    const sorted = [...(points as [number][])].sort((a, b) => a[0] - b[0])
    if (sorted.every((p, i) => p === points[i])) return e
    notes.push(`The points of the envelope “${e.id}” were not in order of time; they are now`)
    return { ...e, points: sorted }
  })
  return notes
}

function parseRow(table: TableName, fields: unknown): { id: string } {
  const given = (fields as { id?: unknown } | null)?.id
  const id = typeof given === 'string' ? keepable(given).slice(0, 60) : table === 'session' ? 'session' : '(no id)'
  const schema = TABLES[table] as z.ZodType
  const parsed = schema.safeParse(fields)
  if (!parsed.success) throw bad(`The ${table} “${id}” is not right: ${explain(parsed.error)}`, isId(id) ? [id] : [])
  const shape = shapeOf(table)
  const odd = Object.keys(fields as object).find(k => !Object.hasOwn(shape, k))
  if (odd)
    throw bad(
      `The ${table} “${id}” has a field “${keepable(odd).slice(0, 60)}” that is not known; its fields are ${Object.keys(shape).join(', ')}`,
      [id]
    )
  return parsed.data as { id: string }
}

/** The same session gives the same bytes: rows by id, fields in the order of the schema. */
export function writePackage(session: Session): string {
  const lines = [`  "nullet": ${PACKAGE_VERSION}`, `  "session": ${written('session', session.session.session)}`]
  for (const table of TABLE_NAMES.filter(t => t !== 'session')) {
    const list = rows(session, table).sort(byId)
    if (list.length) lines.push(`  "${table}": [\n${list.map(r => `    ${written(table, r)}`).join(',\n')}\n  ]`)
  }
  return `{\n${lines.join(',\n')}\n}\n`
}

/** Fields in the order of the schema; free-form values with their keys in order, however they were stored. */
function written(table: TableName, row: object): string {
  return `{${Object.keys(shapeOf(table))
    .map(k => `${JSON.stringify(k)}:${canonical((row as Record<string, unknown>)[k])}`)
    .join()}}`
}

/** A file name for a medium in a package: readable, safe on every system, unique by its id. */
export function audioName(name: string, taken: Set<string>): string {
  const plain =
    name
      .normalize('NFKD')
      .replace(/\.wav$/i, '')
      .replace(/[^A-Za-z0-9 _-]+/g, '')
      .trim()
      .slice(0, 60) || 'audio'
  for (let i = 1; ; i++) {
    const candidate = `audio/${plain}${i > 1 ? ` ${i}` : ''}.wav`
    if (!taken.has(candidate.toLowerCase())) {
      taken.add(candidate.toLowerCase())
      return candidate
    }
  }
}

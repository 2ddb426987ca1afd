// The rules that always hold, in the order in which they are looked at: what a row is, what it names, what it means.
import type { Row, TableName } from '../session/rows'
import { asSession, rows, type RowChange, type Session } from '../session/session'
import { clipLegs, responses } from './audio'
import { cables } from './cables'
import { circles } from './circles'
import { envelopes } from './envelopes'
import { feeds } from './feeds'
import { layouts } from './layouts'
import { links } from './links'
import { loops } from './loops'
import { references } from './references'
import { rowsFit } from './rowsFit'
import type { Breach, Rule } from './rule'
import { slotSettings, unitSettings } from './settings'
import { takes } from './takes'
import { tracks } from './tracks'

export const RULES: readonly Rule[] = [
  rowsFit,
  references,
  tracks,
  takes,
  feeds,
  layouts,
  slotSettings,
  unitSettings,
  clipLegs,
  responses,
  cables,
  loops,
  links,
  envelopes,
  circles
]

/** The first thing that breaks a rule in a whole session, with its rule; null when all hold. */
export function firstBreach(session: Session, rules: readonly Rule[] = RULES): Breach | null {
  const look = {
    session,
    touched: <T extends TableName>(table: T) => rows(session, table),
    keyed: (table: TableName) => Object.entries(session[table])
  }
  for (const rule of rules) for (const breach of rule.find(look)) return breach
  return null
}

/**
 * The first rule that changed rows break, given that all held before, rule by rule. Costs what was changed, and what
 * that can break.
 */
export function* breachBy(session: Session, changes: readonly RowChange[]): Generator<void, Breach | null> {
  const moved = movedFields(changes)
  const touched = <T extends TableName>(table: T) =>
    changes.filter(c => c.table === table && c.after !== null).map(c => c.after as Row<T>)
  const keyed = (table: TableName): [string, unknown][] =>
    changes.filter(c => c.table === table && c.after !== null).map(c => [c.id, c.after])
  for (const rule of RULES) {
    if (!concerns(rule, moved)) continue
    for (const breach of rule.find({ session, touched, keyed })) return breach
    yield
  }
  return null
}

type Moved = Map<TableName, Set<string> | 'all'>

/** Fields that differ, by table; a row that came or went counts as all of them. */
function movedFields(changes: readonly RowChange[]): Moved {
  const moved: Moved = new Map()
  for (const { table, before, after } of changes) {
    const known = moved.get(table)
    if (known === 'all') continue
    if (typeof before !== 'object' || typeof after !== 'object' || before === null || after === null) {
      moved.set(table, 'all')
      continue
    }
    const fields = known ?? new Set<string>()
    const old = before as Record<string, unknown>,
      now = after as Record<string, unknown>
    for (const field of Object.keys(now)) if (old[field] !== now[field]) fields.add(field)
    moved.set(table, fields)
  }
  return moved
}

function concerns({ depends }: Rule, moved: Moved): boolean {
  for (const [table, fields] of moved) {
    const wanted = depends[table]
    if (wanted && (fields === 'all' || wanted === 'all' || wanted.some(f => fields.has(f)))) return true
  }
  return false
}

/** So often rules are gone through: mending one may leave something loose for another. */
const ROUNDS = 6

/**
 * A session in which all rules hold, as near as can be to the one given, and what was done, as sentences.
 * @param rules those that may be mended; all when left out
 */
export function mended(broken: Session, rules: readonly Rule[] = RULES): { session: Session; notes: string[] } {
  const session = asSession(broken),
    notes: string[] = []
  for (let round = 0; round < ROUNDS; round++) {
    const said = rules.flatMap(rule => rule.mend(session))
    notes.push(...said)
    if (!said.length) break
  }
  return { session, notes }
}

export const GENTLE = RULES.filter(r => r.gentle)
export const STRICT = RULES.filter(r => !r.gentle && !r.ofAudio)
export const OF_AUDIO = RULES.filter(r => r.ofAudio)
export type { Breach } from './rule'

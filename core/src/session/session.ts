// A session in memory: tables of rows by id, what differs between two of them, and what must always hold.
import { dictionary } from '../foundation/dictionary'
import { TABLES, TABLE_NAMES, type Print, type Row, type SourcedPrint, type TableName } from './rows'

/** Tables have no prototype; what came as plain JSON or through a message is made one by `asSession`. */
export type Session = { [T in TableName]: Record<string, Row<T>> }

/** One row before and after; null where it did not exist. */
export interface RowChange {
  table: TableName
  id: string
  before: unknown
  after: unknown
}

export function makeRow<T extends TableName>(table: T, fields: unknown): Row<T> {
  return TABLES[table].parse(fields) as Row<T>
}

export function emptySession(name: string, fields: Partial<Row<'session'>> = {}): Session {
  const session = asSession({})
  session.session.session = makeRow('session', { name, ...fields })
  return session
}

/** Tables as they came, with the rows they hold; those that are missing are empty. */
export const asSession = (tables: Partial<Session>): Session =>
  Object.fromEntries(TABLE_NAMES.map(t => [t, dictionary(tables[t] as Record<string, unknown>)])) as unknown as Session

export const rows = <T extends TableName>(session: Session, table: T): Row<T>[] =>
  Object.values(session[table]) as Row<T>[]

/**
 * A row that is there because the rules of `invariants` hold what refers to it.
 * @throws Error where a session that breaks them came past them.
 */
export function rowOf<T extends TableName>(session: Session, table: T, id: string): Row<T> {
  const row = session[table][id] as Row<T> | undefined
  if (!row) throw new Error(`There is no ${table} “${id}”, though something refers to it`)
  return row
}

export const settings = (session: Session): Row<'session'> => rowOf(session, 'session', 'session')

/** Fractional order keys compare by code unit, not by locale; ties fall back on the id. */
export const byOrder = (a: { order: string; id: string }, b: { order: string; id: string }) =>
  a.order < b.order ? -1 : a.order > b.order ? 1 : a.id < b.id ? -1 : a.id > b.id ? 1 : 0
export const byId = (a: { id: string }, b: { id: string }) => (a.id < b.id ? -1 : a.id > b.id ? 1 : 0)

export const slotsOf = (session: Session, channel: string) =>
  rows(session, 'slot')
    .filter(s => s.channel === channel)
    .sort(byOrder)

/** Frames that a clip plays. */
export const clipLength = (session: Session, clip: Row<'clip'>): number =>
  clip.frames ?? rowOf(session, 'medium', clip.medium).frames - clip.offsetFrames

/** Does a clip sound, as far as takes are concerned? */
export const isInHeardTake = (session: Session, clip: Row<'clip'>): boolean =>
  clip.take === null || session.channel[clip.channel]?.take === clip.take

/** Those that sound, as far as takes are concerned. */
/** Media that something plays: clips, impulse responses, players of a rig. */
export const mediaInUse = (session: Session): Set<string> =>
  new Set([
    ...rows(session, 'clip').map(c => c.medium),
    ...rows(session, 'slot').map(s => String(s.params.response)),
    ...rows(session, 'unit').flatMap(u => u.plays ?? [])
  ])

export const heardClips = (session: Session): Row<'clip'>[] =>
  rows(session, 'clip').filter(c => isInHeardTake(session, c))

/** A print whose clip lies in a take that is not heard stands nowhere. */
export const isHeardPrint = (session: Session, print: Row<'print'>): boolean => {
  const clip = print.clip === null ? undefined : session.clip[print.clip]
  return !clip || isInHeardTake(session, clip)
}

/** Is what it was made from there still, and is it all of that? */
export const hasSource = (print: Print): print is SourcedPrint => print.source !== null && print.share === null

export const takesOf = (session: Session, channel: string) =>
  rows(session, 'take')
    .filter(t => t.channel === channel)
    .sort(byOrder)

/** The print that a track holds, if it is a printed one: of several takes, that of the one that is heard. */
export const printOn = (session: Session, channel: string) =>
  rows(session, 'print')
    .filter(p => p.channel === channel && isHeardPrint(session, p))
    .sort(byId)
    .at(0)

/**
 * Rows that differ by identity. Sessions share unchanged rows, so this costs what the tables count, not what they hold.
 */
export function difference(before: Session, after: Session): RowChange[] {
  const changes: RowChange[] = []
  for (const table of TABLE_NAMES) {
    if (before[table] === after[table]) continue
    const old = before[table] as Record<string, unknown>,
      now = after[table] as Record<string, unknown>
    for (const id of Object.keys(now))
      if (old[id] !== now[id]) changes.push({ table, id, before: old[id] ?? null, after: now[id] })
    for (const id of Object.keys(old)) if (!(id in now)) changes.push({ table, id, before: old[id], after: null })
  }
  return changes
}

type Fields = Record<string, unknown>

const isOther = (a: unknown, b: unknown) =>
  a !== b && (typeof a !== 'object' || typeof b !== 'object' || JSON.stringify(a) !== JSON.stringify(b))

/** Fields of two rows that hold other values. */
export const otherFields = (before: unknown, after: unknown): string[] =>
  Object.keys({ ...(before as Fields), ...(after as Fields) }).filter(field =>
    isOther((before as Fields)[field], (after as Fields)[field])
  )

/** Is anything another value? A row that was made again may hold what it held. */
export const isChange = ({ before, after }: RowChange): boolean =>
  !before || !after || otherFields(before, after).length > 0

export const inverse = (changes: readonly RowChange[]): RowChange[] =>
  changes.map(c => ({ ...c, before: c.after, after: c.before })).reverse()

/** A new session with the rows put in place; nothing is checked. */
export function withChanges(session: Session, changes: readonly RowChange[]): Session {
  const next = { ...session } as Record<TableName, Record<string, unknown>>
  for (const table of new Set(changes.map(c => c.table))) next[table] = dictionary(next[table])
  for (const { table, id, after } of changes) {
    if (after === null) delete next[table][id]
    else next[table][id] = after
  }
  return next as Session
}

type Reference = { [T in TableName]?: Record<string, TableName> }
/** Which fields name rows of which table. */
export const REFERENCES: Reference = {
  session: { rig: 'rig', heardChannel: 'channel' },
  channel: { take: 'take', reference: 'channel' },
  take: { channel: 'channel' },
  clip: { channel: 'channel', medium: 'medium', take: 'take' },
  feed: { from: 'channel', to: 'channel', slot: 'slot', ports: 'port' },
  slot: { channel: 'channel', loop: 'loop' },
  interface: { rig: 'rig' },
  port: { interface: 'interface' },
  unit: { rig: 'rig', plays: 'medium' },
  cable: { rig: 'rig', fromPort: 'port', fromUnit: 'unit', toPort: 'port', toUnit: 'unit' },
  loop: { rig: 'rig', outPorts: 'port', inPorts: 'port' },
  print: { channel: 'channel', source: 'channel', clip: 'clip', share: 'channel' },
  link: { members: 'channel' },
  phrase: { channel: 'channel' },
  envelope: { channel: 'channel', feed: 'feed', slot: 'slot' }
}

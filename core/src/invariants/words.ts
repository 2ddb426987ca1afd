// How rows are called in sentences.
import type { Feed, Row, TableName } from '../session/rows'
import type { Session } from '../session/session'

const KINDS: Record<Feed['kind'], string> = {
  main: 'main feed',
  send: 'send',
  key: 'key feed',
  port: 'port feed',
  input: 'input feed'
}

const channel = (session: Session, id: string | null) =>
  id === null ? 'nowhere' : `“${session.channel[id]?.name ?? id}”`
const ports = (session: Session, ids: readonly string[]) => ids.map(p => `“${session.port[p]?.name ?? p}”`).join(', ')

export const feedWords = (session: Session, feed: Feed): string => {
  const kind = KINDS[feed.kind]
  if (feed.kind === 'input') return `the ${kind} from ${ports(session, feed.ports)} to ${channel(session, feed.to)}`
  if (feed.kind === 'port') return `the ${kind} from ${channel(session, feed.from)} to ${ports(session, feed.ports)}`
  const to =
    feed.kind === 'key' ? channel(session, session.slot[feed.slot ?? '']?.channel ?? null) : channel(session, feed.to)
  return `the ${kind} from ${channel(session, feed.from)} to ${to}`
}

/** “the bus “Drums””, “the send from “Kora” to “Hall””. */
export function rowWords(session: Session, table: TableName, row: { id: string }): string {
  if (table === 'feed') return feedWords(session, row as Feed)
  if (table === 'channel') return `the ${(row as Row<'channel'>).kind} “${(row as Row<'channel'>).name}”`
  if (table === 'slot') {
    const s = row as Row<'slot'>
    return `${s.processor} on ${channel(session, s.channel)}`
  }
  if (table === 'envelope') return `the envelope “${row.id}”`
  const name = (row as { name?: string }).name
  return `the ${table} “${name || row.id}”`
}

export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

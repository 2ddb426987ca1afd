// Which stem goes to which port, a rig beside the other; and the same map for another room.
import { endName } from '../graph/cables'
import { isElsewhere, rigOfPort } from '../graph/room'
import type { EditMessage } from '../session/editMessage'
import type { Channel, InputFeed, PortFeed, Row } from '../session/rows'
import { byOrder, rowOf, rows, settings, type Session } from '../session/session'

type OutsideFeed = PortFeed | InputFeed
const isOutside = (f: Row<'feed'>): f is OutsideFeed => f.kind === 'port' || f.kind === 'input'
export const ownerOf = (feed: OutsideFeed): string => (feed.kind === 'port' ? feed.from : feed.to)

/** Port and input feeds of a rig, in the order of their channels. */
export const outsideFeeds = (session: Session, rig: string): OutsideFeed[] =>
  rows(session, 'feed')
    .filter(isOutside)
    .filter(f => f.ports.some(p => rigOfPort(session, p) === rig))
    .sort((a, b) => byOrder(rowOf(session, 'channel', ownerOf(a)), rowOf(session, 'channel', ownerOf(b))))

/** Channels that have a place outside: stems, mains and whatever has a port feed or an input feed. */
export function outsideChannels(session: Session): Channel[] {
  const owners = new Set(rows(session, 'feed').filter(isOutside).map(ownerOf))
  return rows(session, 'channel')
    .filter(c => owners.has(c.id) || c.role === 'stem' || c.role === 'main')
    .sort(byOrder)
}

export const portsOfRig = (session: Session, rig: string, direction: 'out' | 'in'): Row<'port'>[] =>
  rows(session, 'port')
    .filter(p => p.direction === direction && rigOfPort(session, p.id) === rig)
    .sort(byOrder)

/** A channel's ports in the other room: the same places in the order of its ports; null where it lacks one. */
export interface Mapping {
  feed: OutsideFeed
  channel: string
  ports: string[] | null
  /** The channel has a feed of that kind there already: it is left as it is. */
  isThere: boolean
}

export function mapRig(session: Session, from: string, to: string): Mapping[] {
  const there = outsideFeeds(session, to)
  const order = (direction: 'out' | 'in') => ({
    here: portsOfRig(session, from, direction).map(p => p.id),
    there: portsOfRig(session, to, direction).map(p => p.id)
  })
  const places = { port: order('out'), input: order('in') }
  return outsideFeeds(session, from).map(feed => {
    const place = places[feed.kind],
      ports = feed.ports.map(p => place.there[place.here.indexOf(p)])
    return {
      feed,
      channel: ownerOf(feed),
      ports: ports.every(p => p !== undefined) ? (ports as string[]) : null,
      isThere: there.some(f => f.kind === feed.kind && ownerOf(f) === ownerOf(feed))
    }
  })
}

/** Gives the channels of one rig their places in the other; what is there already stays. Null where nothing comes. */
export function mapEdit(session: Session, from: string, to: string, newId: () => string): EditMessage | null {
  const coming = mapRig(session, from, to).filter(m => m.ports && !m.isThere)
  if (!coming.length) return null
  const label = `Ports of “${rowOf(session, 'rig', from).name}” in “${rowOf(session, 'rig', to).name}”`
  const added = coming.map(({ feed, ports }) => ({
    table: 'feed',
    row: { ...feed, id: newId(), ports } as unknown as Record<string, unknown>
  }))
  return { verb: 'addRows', args: { label, rows: added } }
}

export interface Change {
  channel: string
  kind: OutsideFeed['kind']
  now: string[]
  then: string[]
}
/** What would be elsewhere after working in another rig: channels whose ports differ, by name of the ports. */
export function changeOfRig(session: Session, to: string): Change[] {
  const names = (ports: readonly string[]) => ports.map(p => session.port[p]?.name ?? p)
  const then = outsideFeeds(session, to)
  const now = rows(session, 'feed')
    .filter(isOutside)
    .filter(f => settings(session).rig !== null && !isElsewhere(session, f.ports))
    .filter(f => !then.includes(f))
  const keys = new Map<string, Change>()
  const at = (f: OutsideFeed) => {
    const key = `${f.kind} ${ownerOf(f)}`
    const known = keys.get(key) ?? { channel: ownerOf(f), kind: f.kind, now: [], then: [] }
    keys.set(key, known)
    return known
  }
  for (const f of now) at(f).now.push(...names(f.ports))
  for (const f of then) at(f).then.push(...names(f.ports))
  return [...keys.values()]
}

/** What a port carries, what the interface itself sends there too; several stems may share one. */
export function carriedBy(session: Session, port: string): string[] {
  const feeds = rows(session, 'feed').filter(f => isOutside(f) && f.ports.includes(port)) as OutsideFeed[]
  const loops = rows(session, 'loop').filter(l => l.outPorts.includes(port) || l.inPorts.includes(port))
  const routes = rows(session, 'cable').filter(c => c.inside && c.toPort === port)
  return [
    ...feeds.map(f => rowOf(session, 'channel', ownerOf(f)).name),
    ...loops.map(l => `loop “${l.name}”`),
    ...routes.map(c => `${endName(session, c, 'from')}, by the interface itself`)
  ]
}

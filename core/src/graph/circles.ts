// Circles: signal that would have to be there before it is made, whatever is muted, bypassed or listened to right now.
import type { Feed, Row, TableName } from '../session/rows'
import { hasSource, rowOf, rows, type Session } from '../session/session'
import { Edges, nodeOf } from './edges'
import { push, reach } from './network'

/**
 * A circle as the channels it runs through, in order; null when there is none. Circles of cables alone describe the
 * room.
 */
export function findCircle(session: Session): string[] | null {
  const { outOf } = new Edges(session)
  const done = new Set<string>(),
    onPath = new Map<string, number>()
  const path: string[] = []
  const visit = (start: string): string[] | null => {
    // An explicit stack: networks may be deeper than the call stack likes.
    const stack: { node: string; next: number }[] = [{ node: start, next: 0 }]
    onPath.set(start, 0)
    path.push(start)
    for (let top = stack.at(-1); top; top = stack.at(-1)) {
      const way = outOf.get(top.node)?.[top.next++]
      if (!way) {
        stack.pop()
        path.pop()
        onPath.delete(top.node)
        done.add(top.node)
        continue
      }
      const { to } = way
      if (onPath.has(to)) {
        const channels = channelsOf(session, path.slice(onPath.get(to)!))
        if (channels.length) return channels
      } else if (!done.has(to)) {
        onPath.set(to, path.length)
        path.push(to)
        stack.push({ node: to, next: 0 })
      }
    }
    return null
  }
  for (const node of outOf.keys()) {
    if (done.has(node)) continue
    const circle = visit(node)
    if (circle) return circle
  }
  return null
}

function channelsOf(session: Session, nodes: readonly string[]): string[] {
  return [
    ...new Set(
      nodes
        .map(nodeOf)
        .flatMap(({ kind, id }) =>
          kind === 'port' || kind === 'unit'
            ? []
            : [kind === 'slot' || kind === 'behind' ? rowOf(session, 'slot', id).channel : id]
        )
    )
  ]
}

/** Stands for the rig: its ports, cables and units are not told apart. */
const RIG = ''
/** More targets than this are not walked from one by one. */
const MOST_WALKS = 12

/** Channels that a feed joins; null for a key into a slot that is not there. */
function endsOf(session: Session, feed: Feed): [from: string, to: string] | null {
  if (feed.kind === 'input') return [RIG, feed.to]
  if (feed.kind === 'port') return [feed.from, RIG]
  const to = feed.kind === 'key' ? session.slot[feed.slot]?.channel : feed.to
  return to === undefined ? null : [feed.from, to]
}

/** Which channels lead on to which, through the rig to all that hear it. */
function channelWays(session: Session): Map<string, string[]> {
  const ways = new Map<string, string[]>()
  for (const feed of rows(session, 'feed')) {
    const ends = endsOf(session, feed)
    if (ends) push(ways, ...ends)
  }
  for (const slot of rows(session, 'slot'))
    if (slot.loop !== null) {
      push(ways, slot.channel, RIG)
      push(ways, RIG, slot.channel)
    }
  for (const print of rows(session, 'print').filter(hasSource)) push(ways, print.source, print.channel)
  return ways
}

/**
 * False where no circle can have come by the rows that were touched, given that there was none before: no channel that
 * they lead to leads back to where they come from. Costs little beside `findCircle`, and is true too often rather than
 * too seldom.
 */
export function mayCircle(session: Session, touched: <T extends TableName>(table: T) => Row<T>[]): boolean {
  if (touched('loop').length || touched('cable').length || touched('slot').some(s => s.loop !== null)) return true
  const slots = new Set(touched('slot').map(s => s.id))
  const keys = slots.size ? rows(session, 'feed').filter(f => f.kind === 'key' && slots.has(f.slot)) : []
  const joined = new Map<string, string[]>()
  for (const feed of [...touched('feed'), ...keys]) {
    const ends = endsOf(session, feed)
    if (ends) push(joined, ends[1], ends[0])
  }
  for (const print of touched('print').filter(hasSource)) push(joined, print.channel, print.source)
  if (joined.size > MOST_WALKS) return true
  const ways = channelWays(session)
  for (const [to, from] of joined) {
    const reached = reach([to], id => ways.get(id) ?? [])
    if (from.some(id => reached.has(id))) return true
  }
  return false
}

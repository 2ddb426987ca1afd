// Circles: signal that would have to be there before it is made, whatever is muted, bypassed or listened to right now.
import { rowOf, type Session } from '../session/session'
import { Edges, nodeOf } from './edges'

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

// What the next pass would print: names, and through which loops.
import { LOOP } from '@nullet/core/processors/table'
import { Network } from '@nullet/core/graph/network'
import { rows, slotsOf, takesOf, type Session } from '@nullet/core/session/session'
import type { Tap } from '@nullet/core/session/rows'

export interface Planned {
  key: string
  source: string
  tap: Tap
  name: string
  takesOver: boolean
  loops: string[]
  way: string
  /** The track that holds a print of the same tap: another take can go there. */
  onto: { track: string; name: string; takes: number; takesOver: boolean } | null
}

function heldBy(session: Session, source: string, tap: Tap): Planned['onto'] {
  const print = rows(session, 'print').find(
    p => p.source === source && p.tap === tap && session.channel[p.channel]?.parked === false
  )
  if (!print) return null
  const { id, name } = session.channel[print.channel]!
  return { track: id, name, takes: Math.max(1, takesOf(session, id).length), takesOver: print.takesOver }
}

export function printsPlan(session: Session, wanted: readonly string[]): Planned[] {
  const network = new Network(session)
  const taken = new Set(rows(session, 'channel').map(c => c.name))
  /** “Kora amp”, “Kora amp 2”: a name that no other channel has. */
  const free = (name: string): string => {
    let found = name
    for (let n = 2; taken.has(found); n++) found = `${name} ${n}`
    taken.add(found)
    return found
  }
  return wanted.flatMap((key): Planned[] => {
    const at = key.lastIndexOf('@')
    const source = key.slice(0, at),
      tap = key.slice(at + 1) as Tap
    const channel = session.channel[source]
    if (!channel) return []
    const upstream = network.reach([source], id => network.upstream(id))
    const own = slotsOf(session, source).filter(s => tap === 'post' || (tap === 'pre' && !s.afterFader))
    const others = rows(session, 'slot').filter(s => s.channel !== source && upstream.has(s.channel))
    const loops = [...own, ...others]
      .filter(s => s.processor === LOOP && s.loop && s.state !== 'off')
      .map(s => session.loop[s.loop!]!.name)
    const ownLoop = own.find(s => s.processor === LOOP && s.loop)
    const name = ownLoop
      ? `${channel.name.replace(/\s*DI$/, '')} ${/amp/i.test(session.loop[ownLoop.loop!]!.name) ? 'amp' : session.loop[ownLoop.loop!]!.name.toLowerCase()}`
      : `${channel.name} print`
    return [
      {
        key,
        source,
        tap,
        name: free(name),
        takesOver: channel.role !== 'main',
        loops,
        way: loops.length ? `through ${loops.join(', ')}` : 'inside',
        onto: heldBy(session, source, tap)
      }
    ]
  })
}

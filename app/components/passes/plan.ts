// What the next pass would print: names, and through which loops.
import { LOOP } from '@nullet/core/processors/table'
import { Network } from '@nullet/core/graph/network'
import { byOrder, rows, slotsOf, takesOf, type Session } from '@nullet/core/session/session'
import type { Tap } from '@nullet/core/session/rows'

export interface Planned {
  key: string
  source: string
  tap: Tap
  /** Whose tracks alone are let through. */
  share: string | null
  name: string
  takesOver: boolean
  loops: string[]
  way: string
  /** The track that holds a print of the same tap: another take can go there. */
  onto: { track: string; name: string; takes: number; takesOver: boolean } | null
}

/** How a tap is named in what is to be printed: `channel@tap`, or `channel@tap@whose share`. */
export const planKey = (source: string, tap: Tap, share: string | null = null): string =>
  [source, tap, ...(share === null ? [] : [share])].join('@')

function heldBy(session: Session, source: string, tap: Tap, share: string | null): Planned['onto'] {
  const print = rows(session, 'print').find(
    p => p.source === source && p.tap === tap && p.share === share && session.channel[p.channel]?.parked === false
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
    const [source = '', tap, share = null] = key.split('@') as [string, Tap, string?]
    const channel = session.channel[source],
      whose = share === null ? undefined : session.channel[share]
    if (!channel || (share !== null && !whose)) return []
    const upstream = network.reach([source], id => network.upstream(id))
    const own = slotsOf(session, source).filter(s => tap === 'post' || (tap === 'pre' && !s.afterFader))
    const others = rows(session, 'slot').filter(s => s.channel !== source && upstream.has(s.channel))
    const loops = [...own, ...others]
      .filter(s => s.processor === LOOP && s.loop && s.state !== 'off')
      .map(s => session.loop[s.loop!]!.name)
    const ownLoop = own.find(s => s.processor === LOOP && s.loop)
    const name = whose
      ? `${whose.name} print`
      : ownLoop
        ? `${channel.name.replace(/\s*DI$/, '')} ${/amp/i.test(session.loop[ownLoop.loop!]!.name) ? 'amp' : session.loop[ownLoop.loop!]!.name.toLowerCase()}`
        : `${channel.name} print`
    return [
      {
        key,
        source,
        tap,
        share,
        name: free(name),
        takesOver: channel.role !== 'main' && share === null,
        loops,
        way: loops.length ? `through ${loops.join(', ')}` : 'inside',
        onto: heldBy(session, source, tap, share)
      }
    ]
  })
}

/** Every stem's share of a main, as it has to be for them to add up to it. */
export const stemsPlan = (session: Session, main: string): string[] => {
  const network = new Network(session)
  return rows(session, 'channel')
    .filter(c => c.role === 'stem' && !c.parked)
    .sort(byOrder)
    .filter(c => network.reach([c.id], id => network.next(id).map(f => f.to)).has(main))
    .map(c => planKey(main, 'post', c.id))
}

// What the next passes would print: names, which way, onto which track.
import { isPlaceholder, LOOP } from '@nullet/core/processors/table'
import { Network } from '@nullet/core/graph/network'
import { throughText } from '@nullet/core/print/passJobs'
import { cablesInstead, wayName } from '@nullet/core/print/through'
import { keysAfter, ordersAfter } from '@nullet/core/session/order'
import { byOrder, rows, slotsOf, takesOf, type Session } from '@nullet/core/session/session'
import type { Channel, Tap, Through } from '@nullet/core/session/rows'

/** A print that is wanted: which tap, whose share of it, and the way out and back where it has one of its own. */
export interface WantedTap {
  source: string
  tap: Tap
  share: string | null
  through: Through | null
}

/** One line of the plan, as it was told: what is left out is found. */
export interface WantedPrint extends WantedTap {
  /** The id of its print. */
  print: string
  name?: string
  place?: PrintPlace
}
/** Onto the track of the one before, onto one of its own in its source's place, or beside it. */
export type PrintPlace = 'take' | 'over' | 'beside'

export interface Planned extends WantedTap {
  print: string
  name: string
  place: PrintPlace
  /** Through which units, or inside. */
  way: string
  isOut: boolean
  /** How units are set for it. */
  settings: string[]
  /** The track that holds a print of the same tap: another take can go there. */
  onto: { track: string; name: string; takes: number; takesOver: boolean } | null
  /** The first of the plan that goes onto the same new track; null where it is that, or has a track already. */
  with: string | null
}

export const wantedTap = (source: string, tap: Tap = 'post', share: string | null = null): WantedTap => ({
  source,
  tap,
  share,
  through: null
})

/** The same tap and share: prints of it go onto one track. */
export const sameTap = (a: WantedTap, b: WantedTap): boolean =>
  a.source === b.source && a.tap === b.tap && a.share === b.share

function heldBy(session: Session, wanted: WantedTap): Planned['onto'] {
  const print = rows(session, 'print').find(
    p =>
      p.source !== null &&
      sameTap({ ...p, source: p.source }, wanted) &&
      (p.through === null) === (wanted.through === null) &&
      session.channel[p.channel]?.parked === false
  )
  if (!print) return null
  const { id, name } = session.channel[print.channel]!
  return { track: id, name, takes: Math.max(1, takesOf(session, id).length), takesOver: print.takesOver }
}

const isThere = (session: Session, { source, share }: WantedTap) =>
  !!session.channel[source] && (share === null || !!session.channel[share])

/** @returns a line for everything that is still there to be printed */
export function printsPlan(session: Session, wanted: readonly WantedPrint[]): Planned[] {
  const network = new Network(session)
  const taken = new Set(rows(session, 'channel').map(c => c.name))
  /** “Kora amp”, “Kora amp 2”: a name that no other channel has. */
  const free = (name: string): string => {
    let found = name
    for (let n = 2; taken.has(found); n++) found = `${name} ${n}`
    taken.add(found)
    return found
  }
  const planned: Planned[] = []
  for (const w of wanted) {
    if (!isThere(session, w)) continue
    const { way, isOut, name } = w.through ? outWay(session, w, w.through) : insideWay(session, network, w)
    const onto = heldBy(session, w)
    const first = w.through
      ? planned.find(p => p.through && sameTap(p, w) && p.place !== 'beside' && p.with === null)
      : undefined
    const fits = session.channel[w.source]!.role !== 'main' && w.share === null
    const place =
      w.place && (w.place !== 'take' || onto || first) ? w.place : onto || first ? 'take' : fits ? 'over' : 'beside'
    const takes = (onto?.takes ?? 0) + planned.filter(p => p.through && sameTap(p, w)).length
    const settings = w.through ? throughText(session, w.through) : []
    planned.push({
      ...w,
      name: w.name || (place === 'take' ? `Take ${takes + 1}` : free(name)),
      place,
      way,
      isOut,
      settings,
      onto,
      with: place === 'take' && !onto && first ? first.print : null
    })
  }
  return planned
}

function outWay(session: Session, { source }: WantedTap, through: Through) {
  const way = wayName({ ...session, cable: cablesInstead(session, through.instead) }, through)
  const name = `${session.channel[source]!.name.replace(/\s*DI$/, '')}, ${way}`
  return { way: `out through ${way} by itself`, isOut: true, name }
}

function insideWay(session: Session, network: Network, { source, tap, share }: WantedTap) {
  const { name } = session.channel[source]!
  const upstream = network.reach([source], id => network.upstream(id))
  const own = slotsOf(session, source).filter(s => tap === 'post' || (tap === 'pre' && !s.afterFader))
  const others = rows(session, 'slot').filter(s => s.channel !== source && upstream.has(s.channel))
  const loops = [...own, ...others].flatMap(s =>
    s.processor === LOOP && s.loop && s.state !== 'off' ? [session.loop[s.loop]!.name] : []
  )
  const ownLoop = own.find(s => s.processor === LOOP && s.loop)
  const loop = ownLoop && session.loop[ownLoop.loop!]!.name
  return {
    way: loops.length ? `through ${loops.join(', ')}` : 'inside',
    isOut: loops.length > 0,
    name:
      share !== null
        ? `${session.channel[share]!.name} print`
        : loop
          ? `${name.replace(/\s*DI$/, '')} ${/amp/i.test(loop) ? 'amp' : loop.toLowerCase()}`
          : `${name} print`
  }
}

/** Every stem's share of a main, as it has to be for them to add up to it. */
export const stemsPlan = (session: Session, main: string): WantedTap[] => {
  const network = new Network(session)
  return rows(session, 'channel')
    .filter(c => c.role === 'stem' && !c.parked)
    .sort(byOrder)
    .filter(c => network.reach([c.id], id => network.next(id).map(f => f.to)).has(main))
    .map(c => wantedTap(main, 'post', c.id))
}

/** Processors that cost many times what a filter does: see docs/speed.md. */
const HEAVY = ['reverb', 'convolution', 'saturation']
const taps = (session: Session, wanted: (channel: Channel) => boolean): WantedTap[] =>
  rows(session, 'channel')
    .filter(c => !c.parked && wanted(c))
    .sort(byOrder)
    .map(c => wantedTap(c.id))
const hasSlot = (session: Session, is: (processor: string) => boolean) => {
  const channels = new Set(
    rows(session, 'slot')
      .filter(s => s.state !== 'off' && is(s.processor))
      .map(s => s.channel)
  )
  return ({ id }: Channel) => channels.has(id)
}
/** What is printed together in one go, by what it has in common. */
export const GROUPS: readonly { label: string; taps(session: Session): WantedTap[] }[] = [
  { label: 'all returns', taps: session => taps(session, c => c.role === 'return') },
  { label: 'all submixes', taps: session => taps(session, c => c.role === 'submix') },
  {
    label: 'what has a reverb or a saturation on it',
    taps: s =>
      taps(
        s,
        hasSlot(s, p => HEAVY.includes(p))
      )
  },
  {
    label: 'what goes through a loop',
    taps: s =>
      taps(
        s,
        hasSlot(s, p => p === LOOP)
      )
  },
  { label: 'what has a processor that is not here', taps: s => taps(s, hasSlot(s, isPlaceholder)) }
]

/** Places for new print tracks: right behind the track that each is printed from; those of buses behind everything. */
export function printOrders(session: Session, sources: readonly string[]): string[] {
  const sorted = rows(session, 'channel').sort(byOrder)
  const keys = new Map<string | null, string[]>()
  for (const group of new Set(sources)) {
    const at = sorted.findIndex(c => c.id === group && c.kind === 'track')
    const wanted = sources.filter(s => s === group).length
    if (at >= 0) keys.set(group, keysAfter(sorted[at]!.order, wanted, sorted[at + 1]?.order ?? null))
  }
  const rest = ordersAfter(sorted, sources.filter(s => !keys.has(s)).length)
  return sources.map(s => (keys.get(s) ?? rest).shift()!)
}

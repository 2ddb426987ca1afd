// Is a print stale, and what of which rows has changed since it was made, in words.
import { slotLabel } from '../processors/table'
import { UNITS } from '../rig/units'
import type { Print } from '../session/rows'
import { rowOf, type Session } from '../session/session'
import { edgesOf, fingerprint, type Fingerprint } from './fingerprint'
import { stageOf, tapOf } from './through'

/** The session as if the source of a print were not parked, and as if nothing before it were either. */
interface AsHeard {
  alone: Session
  withAll?: Session
}

const unparked = (session: Session, ids: Iterable<string>): Session => ({
  ...session,
  channel: {
    ...session.channel,
    ...Object.fromEntries([...ids].map(id => [id, { ...rowOf(session, 'channel', id), parked: false }]))
  }
})

/** A source is parked because its print is heard in its place, and what only fed it with it: neither makes stale. */
function asHeard(session: Session, source: string): AsHeard {
  if (!rowOf(session, 'channel', source).parked) return { alone: session }
  const known = parkedSources.get(session) ?? new Map<string, AsHeard>()
  parkedSources.set(session, known)
  const network = edgesOf(session).network
  const found = known.get(source) ?? {
    alone: unparked(session, [source]),
    withAll: unparked(
      session,
      network.reach([source], id => network.upstream(id))
    )
  }
  known.set(source, found)
  return found
}
const parkedSources = new WeakMap<Session, Map<string, AsHeard>>()
/**
 * What differs between a stored fingerprint and now, as row names (“slot s12”, “channel drums”). Empty: still the same.
 */
export function changedParts(stored: Record<string, string>, now: Record<string, string>): string[] {
  if (stored.form !== now.form) return ['form']
  return [...new Set([...Object.keys(stored), ...Object.keys(now)])].filter(k => stored[k] !== now[k]).sort()
}

/**
 * The rows that make a print stale, empty when it is up to date. What only came or went behind a row that changed is
 * not told.
 */
export function staleParts(session: Session, printId: string): string[] {
  const known = asked.get(session) ?? new Map<Print, string[]>()
  asked.set(session, known)
  const print = session.print[printId],
    parts = known.get(print) ?? partsChanged(session, printId)
  known.set(print, parts)
  return parts
}
/** Asked for in several places of a view; sessions and rows are never written to. */
const asked = new WeakMap<Session, Map<Print, string[]>>()

/** What a print is made from, or is going to be. */
export type MadeFrom = Pick<Print, 'id' | 'tap' | 'share' | 'through' | 'seed' | 'startFrame' | 'frames'> & {
  source: string
}

/** Of the tap a print is of; of what came back, where it was sent along a way of its own. */
export function fingerprintOf(session: Session, print: MadeFrom): Fingerprint {
  const { id, source, tap, share, through, seed, startFrame: from, frames } = print
  const sent = { print: id, source, tap, through },
    at = tapOf(sent)
  // What goes out by itself is no share of anything.
  return fingerprint(stageOf(session, sent), at.channel, at.tap, { seed, from, frames }, through ? null : share)
}

/** The session in which a parked source sounds, with what fed it: its place is what is wanted, not its silence. */
export const soundingSource = (session: Session, source: string): Session => {
  const { alone, withAll } = asHeard(session, source)
  return withAll ?? alone
}

function partsChanged(session: Session, printId: string): string[] {
  const print = session.print[printId]
  if (!print.source || !session.channel[print.source]) return ['source']
  const partsIn = (session: Session) => fingerprintOf(session, print as MadeFrom).parts
  const { source } = print
  const { alone, withAll } = asHeard(session, source)
  const now = partsIn(alone),
    changed = changedParts(print.parts, now)
  if (changed.length && withAll && !changedParts(print.parts, partsIn(withAll)).length) return []
  const inBoth = changed.filter(part => part in print.parts && part in now)
  return inBoth.length ? inBoth : changed
}

/** What a part is called, by its kind. */
const NAMES: Record<string, (session: Session, id: string) => string> = {
  form: () => 'what counts: it was printed by an earlier version',
  session: () => 'sample rate or range',
  share: (s, id) => `what feeds ${s.channel[id]?.name ?? id}`,
  channel: (s, id) => `input section of ${s.channel[id]?.name ?? id}`,
  fader: (s, id) => `level of ${s.channel[id]?.name ?? id}`,
  slot: (s, id) =>
    s.slot[id]
      ? `${slotLabel(s.slot[id].processor)} on ${s.channel[s.slot[id].channel].name}`
      : 'a slot that was removed',
  loop: (s, id) => `loop ${s.loop[id]?.name ?? id}`,
  clip: (s, id) => (s.clip[id] ? `a clip of ${s.channel[s.clip[id].channel].name}` : 'a clip that was removed'),
  phrase: (s, id) => (s.phrase[id] ? `notes of ${s.channel[s.phrase[id].channel].name}` : 'notes that were removed'),
  feed: (s, id) => {
    const f = s.feed[id]
    return f ? `a ${f.kind} feed${f.from ? ` from ${s.channel[f.from].name}` : ''}` : 'a feed that was removed'
  },
  print: (s, id) =>
    s.print[id] ? `what ${s.channel[s.print[id].channel].name} was printed from` : 'a print that was removed',
  port: (s, id) => `port ${s.port[id]?.name ?? id}`,
  unit: (s, id) => s.unit[id]?.name ?? 'a unit that was removed',
  // What a unit without power closes is the way out of it.
  cable: (s, id) => {
    const unit = s.unit[s.cable[id]?.fromUnit ?? '']
    return unit && !unit.powered && !UNITS[unit.model]?.passive ? `${unit.name}, which is off` : 'a cable'
  }
}

/** “slot s12” → “Compressor on Drums”. */
export function partName(session: Session, part: string): string {
  const cut = part.indexOf(' '),
    kind = cut < 0 ? part : part.slice(0, cut)
  return NAMES[kind]?.(session, cut < 0 ? '' : part.slice(cut + 1)) ?? part
}

// What an envelope can move: levels and placement of channels and feeds, mix and settings of slots.
// A level's envelope is a ride: dB on top of where the fader stands, so that the fader still trims the whole of it.
// The others take the place of the value while they are on.
import { PROCESSORS } from '../processors/table'
import type { Envelope, EnvelopePoint, Slot } from '../session/rows'
import { rows, type Session } from '../session/session'
import type { Law } from './envelope'
import { FLOOR_DB } from '../foundation/elementary'

export type Owner = 'channel' | 'feed' | 'slot'
export interface Target {
  owner: Owner
  row: string
  field: string
}

export interface Moving {
  label: string
  unit: string
  law: Law
  min: number
  max: number
  /** Where a line lies that changes nothing. */
  rest: number
  /** How far a recorded movement may be from what is kept of it; see thin.ts for its unit. */
  tolerance: number
}

const RIDE: Moving = { label: 'Level ride', unit: 'dB', law: 'db', min: -60, max: 12, rest: 0, tolerance: 0.1 }
const PAN: Moving = { label: 'Pan', unit: '', law: 'linear', min: -1, max: 1, rest: 0, tolerance: 0.01 }

export const targetOf = (e: Envelope): Target => ({
  owner: e.channel ? 'channel' : e.feed ? 'feed' : 'slot',
  row: (e.channel ?? e.feed ?? e.slot)!,
  field: e.field
})
export const targetName = (t: Target) => `${t.owner}/${t.row}/${t.field}`

/** How a slot's setting or mix moves; null when it keeps still. */
export function movementOf(slot: Slot, field: string): Moving | null {
  if (field === 'mix')
    return { label: 'Mix', unit: '', law: 'linear', min: 0, max: 1, rest: slot.mix, tolerance: 0.005 }
  const p = PROCESSORS[slot.processor]?.parameters.find(p => p.name === field)
  if (!p || p.choices || p.shapes) return null
  const law = p.law === 'ratio' && p.min! > 0 ? 'ratio' : 'linear'
  return {
    label: p.label,
    unit: p.unit ?? '',
    law,
    min: p.min!,
    max: p.max!,
    rest: (slot.params[field] ?? p.initial) as number,
    tolerance: p.unit === 'dB' ? 0.1 : law === 'ratio' ? 0.01 : (p.max! - p.min!) / 500
  }
}

/** Fields of a slot that can follow envelopes. */
export const movingFields = (slot: Slot): string[] =>
  ['mix', ...(PROCESSORS[slot.processor]?.parameters ?? []).map(p => p.name)].filter(f => movementOf(slot, f))

/** How a target moves; null when it is not there or keeps still. */
export function movingOf(session: Session, { owner, row, field }: Target): Moving | null {
  if (owner === 'slot') return session.slot[row] ? movementOf(session.slot[row], field) : null
  const known = owner === 'channel' ? session.channel[row] : session.feed[row]
  if (!known) return null
  if (field === 'levelDb') return RIDE
  if (field !== 'pan') return null
  if (owner === 'channel') return { ...PAN, rest: session.channel[row].pan }
  const feed = session.feed[row]
  return feed.kind === 'main' || feed.kind === 'send'
    ? { ...PAN, rest: feed.pan ?? session.channel[feed.from].pan }
    : null
}

/** The envelope of a target, on or off. */
export const envelopeOn = (session: Session, target: Target) =>
  rows(session, 'envelope').find(e => targetName(targetOf(e)) === targetName(target))

/** A point's value that the target cannot take. −∞ is for levels alone. */
export const beyond = (
  { min, max, law }: Pick<Moving, 'min' | 'max'> & { law: Law },
  [, value]: EnvelopePoint
): boolean => (value === null ? law !== 'db' : value < min - 1e-9 || value > max + 1e-9)

/** Envelopes that are on and have points, by the name of their target. */
export function envelopesOf(session: Session): Map<string, Envelope> {
  return new Map(
    rows(session, 'envelope')
      .filter(e => e.on && e.points.length)
      .map(e => [targetName(targetOf(e)), e])
  )
}

/** The ride that keeps a level at −∞ from beginning to end, if one does. */
export function silentRide(session: Session, owner: 'channel' | 'feed', row: string): Envelope | undefined {
  const ride = rows(session, 'envelope').find(e => e.on && e[owner] === row && e.field === 'levelDb' && e.points.length)
  return ride?.points.every(([, v]) => v === null || v <= FLOOR_DB) ? ride : undefined
}

/** The channel in which a target lies: of a feed, the one it leaves; of an input feed, the one it arrives at. */
export function channelOf(session: Session, { owner, row }: Target): string | null {
  if (owner === 'channel') return row in session.channel ? row : null
  if (owner === 'slot') return session.slot[row]?.channel ?? null
  return session.feed[row]?.from ?? session.feed[row]?.to ?? null
}

/** “Level ride of the send to Dome hall”. */
export function targetLabel(session: Session, target: Target): string {
  const label = movingOf(session, target)?.label ?? target.field
  if (target.owner === 'channel') return label
  if (target.owner === 'slot') {
    const s = session.slot[target.row]
    return s ? `${PROCESSORS[s.processor]?.label ?? s.processor}: ${label}` : label
  }
  const feed = session.feed[target.row]
  if (!feed) return label
  const to = feed.to
    ? session.channel[feed.to]?.name
    : feed.slot
      ? `key of ${session.channel[session.slot[feed.slot]?.channel]?.name}`
      : 'ports'
  return `${feed.kind === 'main' ? 'Main feed' : feed.kind === 'send' ? 'Send' : feed.kind === 'key' ? 'Key' : feed.kind === 'port' ? 'Port feed' : 'Input feed'} to ${to}: ${label}`
}

/** The same with the channel in which it lies: “Level ride of “Kora””. */
export function targetWords(session: Session, target: Target): string {
  const channel = session.channel[channelOf(session, target) ?? '']
  return `${targetLabel(session, target)} of “${channel?.name ?? target.row}”`
}

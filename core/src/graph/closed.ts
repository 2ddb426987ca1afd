// Why a way carries nothing. The same answers keep the engine from computing what nobody hears, a fingerprint from
// counting it, and tell somebody who asks why there is silence.
import { LOOP, PROCESSORS } from '../processors/table'
import { unitSettings } from '../rig/unit'
import { UNITS } from '../rig/units'
import type { Cable, Channel, Envelope, Feed, Slot, Unit } from '../session/rows'
import { settings, type Session } from '../session/session'
import { howls, plugOver } from './cables'
import type { Network } from './network'
import { isElsewhere } from './room'
import { isAudible, printInPlaceOf } from './takeOver'

export type Closed =
  | 'parked'
  | 'trim'
  | 'legs'
  | 'muted'
  | 'level'
  | 'feedMuted'
  | 'feedLevel'
  | 'otherRig'
  | 'printStands'
  | 'notListening'
  | 'otherTake'
  | 'off'
  | 'bypassed'
  | 'dry'
  | 'wet'
  | 'notKeyed'
  | 'send'
  | 'return'
  | 'unitOff'
  | 'switch'
  | 'noLock'
  | 'plugged'
  | 'howls'
  | 'routeLevel'

/** What closes a feed at its own end, but for solo and what a track listens to. */
export function feedClosed(network: Network, feed: Feed): Closed | null {
  const from = feed.from === null ? null : network.session.channel[feed.from]
  if (from?.parked) return 'parked'
  if (feed.muted) return 'feedMuted'
  if (from?.muted && (isAudible(feed) || feed.withMute)) return 'muted'
  if (isElsewhere(network.session, feed.ports)) return 'otherRig'
  if (printInPlaceOf(network, feed)) return 'printStands'
  return feed.levelDb === null ? 'feedLevel' : null
}

/** What closes the way from what arrives at a channel to its input tap. */
export function inputClosed(channel: Channel): Closed | null {
  if (channel.parked) return 'parked'
  if (channel.trimDb === null) return 'trim'
  return channel.mutedLegs.length >= channel.layout.length ? 'legs' : null
}

export const faderClosed = (channel: Channel): Closed | null =>
  channel.muted ? 'muted' : channel.levelDb === null ? 'level' : null

/** What closes the way through a slot's processor or loop. */
export function wetClosed(slot: Slot, envelopes: ReadonlyMap<string, Envelope>): Closed | null {
  if (slot.state !== 'on') return slot.state === 'off' ? 'off' : 'bypassed'
  return slot.mix === 0 && !envelopes.has(`slot/${slot.id}/mix`) ? 'dry' : null
}

/** What closes the way around it. */
export function dryClosed(slot: Slot, envelopes: ReadonlyMap<string, Envelope>): Closed | null {
  if (slot.processor !== LOOP && !PROCESSORS[slot.processor]) return null
  return slot.state === 'on' && slot.mix === 1 && !envelopes.has(`slot/${slot.id}/mix`) ? 'wet' : null
}

export const unitClosed = (unit: Unit): Closed | null => (unit.powered || UNITS[unit.model]?.passive ? null : 'unitOff')

/**
 * What closes the way along a cable: the unit that it leaves, the switch or the clock of the unit that it ends at, a
 * plug over a normalled one, a circle or the level of one inside an interface.
 */
export function cableClosed(session: Session, cable: Cable): Closed | null {
  if (plugOver(session, cable)) return 'plugged'
  if (cable.inside && cable.levelDb === null) return 'routeLevel'
  if (howls(session, cable)) return 'howls'
  const from = cable.fromUnit === null ? undefined : session.unit[cable.fromUnit],
    to = cable.toUnit === null ? undefined : session.unit[cable.toUnit]
  if (cable.fromUnit !== null && !(from && UNITS[from.model])) return 'unitOff'
  if (from && unitClosed(from)) return 'unitOff'
  const model = to && UNITS[to.model]
  if (!model) return null
  if (model.listensTo && !model.listensTo(unitSettings(model, to.settings)).includes(cable.toJack)) return 'switch'
  const { digital } = model
  return digital?.inputs.includes(cable.toJack) && digital.rate !== settings(session).sampleRate ? 'noLock' : null
}

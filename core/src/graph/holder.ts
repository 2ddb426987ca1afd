// Who uses a loop: the slot that it is plugged into, or feeds that go to its ports out and listen to its ports in.
import { LOOP } from '../processors/table'
import type { InputFeed, Loop, PortFeed, Slot } from '../session/rows'
import { byId, rowOf, rows, type Session } from '../session/session'
import { isElsewhere } from './room'

/** Undefined for a loop that waits. */
export const holderOf = (session: Session, loop: Loop): Slot | undefined =>
  rows(session, 'slot').find(s => s.processor === LOOP && s.loop === loop.id)

export interface LoopUse {
  slot?: Slot
  /** Port feeds into its ports out; none where a slot holds it. */
  sends: PortFeed[]
  /** Input feeds from its ports in. */
  returns: InputFeed[]
}

export function useOf(session: Session, loop: Loop): LoopUse {
  const slot = holderOf(session, loop)
  if (slot) return { slot, sends: [], returns: [] }
  const meets = (ports: readonly string[], own: readonly string[]) =>
    ports.some(p => own.includes(p)) && !isElsewhere(session, ports)
  const open = rows(session, 'feed')
    .filter(f => !f.muted && f.levelDb !== null)
    .sort(byId)
  return {
    sends: open.filter((f): f is PortFeed => f.kind === 'port' && meets(f.ports, loop.outPorts)),
    returns: open.filter((f): f is InputFeed => f.kind === 'input' && meets(f.ports, loop.inPorts))
  }
}

/** Channels that it takes from and gives to, in words; empty where nothing is to come back from it. */
export function usersOf(session: Session, { slot, sends, returns }: LoopUse): string[] {
  if (slot) return slot.state === 'on' ? [slot.channel] : []
  return sends.length && returns.length ? [...new Set([...sends.map(f => f.from), ...returns.map(f => f.to)])] : []
}

export const userNames = (session: Session, users: readonly string[]): string =>
  users.map(id => `“${rowOf(session, 'channel', id).name}”`).join(' and ')

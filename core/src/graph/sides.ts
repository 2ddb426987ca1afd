// Which sides of which units the signal from some ports out passes. A unit whose wires are apart (dual mono) has a side
// for each jack and may have as many owners; any other unit is one side.
import type { Cable } from '../session/rows'
import type { Session } from '../session/session'
import { UNITS } from '../rig/units'
import { patchedCables } from './cables'

interface Passed {
  cables: Cable[]
  /** `unit|side` */
  sides: Set<string>
}

function passedFrom(session: Session, portsOut: readonly string[]): Passed {
  const cables = patchedCables(session)
  const passed: Passed = { cables: [], sides: new Set() }
  const ports = new Set(portsOut)
  let open = cables.filter(c => c.fromPort !== null && ports.has(c.fromPort))
  while (open.length) {
    const next: typeof open = []
    passed.cables.push(...open)
    for (const cable of open) {
      if (cable.toPort !== null && !ports.has(cable.toPort)) {
        // A route inside the interface may lead on.
        ports.add(cable.toPort)
        next.push(...cables.filter(c => c.fromPort === cable.toPort))
      }
      const unit = session.unit[cable.toUnit ?? '']
      if (!unit) continue
      const apart = !!UNITS[unit.model]?.apart
      const side = `${cable.toUnit}|${apart ? cable.toJack : 0}`
      if (passed.sides.has(side)) continue
      passed.sides.add(side)
      next.push(...cables.filter(c => c.fromUnit === cable.toUnit && (!apart || c.fromJack === cable.toJack)))
    }
    open = next
  }
  return passed
}

/** `unit|side` for every side of a unit that signal from these ports out reaches by cables. */
export const sidesReached = (session: Session, portsOut: readonly string[]): Set<string> =>
  passedFrom(session, portsOut).sides

/**
 * Ports in at which signal from these ports out comes back, each side by itself; what a unit gives to the monitors is
 * no return.
 */
export const portsBehind = (session: Session, portsOut: readonly string[]): Set<string> =>
  new Set(
    passedFrom(session, portsOut).cables.flatMap(c =>
      session.port[c.toPort ?? '']?.direction === 'in' && !isMonitor(session, c) ? (c.toPort ?? []) : []
    )
  )

/** Does it leave a unit by a jack that is for listening? */
export const isMonitor = (session: Session, { fromUnit, fromJack }: Cable): boolean =>
  !!UNITS[session.unit[fromUnit ?? '']?.model ?? '']?.monitors?.includes(fromJack)

/** Ports in to which the monitor jacks of the units before these ports in are cabled, left to right. */
export function monitorPorts(session: Session, returns: readonly string[]): string[] {
  const cables = patchedCables(session)
  const units = new Set(cables.flatMap(c => (returns.includes(c.toPort ?? '') ? (c.fromUnit ?? []) : [])))
  return cables
    .filter(c => units.has(c.fromUnit ?? '') && c.toPort !== null && isMonitor(session, c))
    .sort((a, b) => a.fromJack - b.fromJack)
    .flatMap(c => c.toPort ?? [])
}

/** Does signal from that port out meet that of another in some unit? */
export function meets(session: Session, port: string, other: string): boolean {
  if (port === other) return true
  if (session.port[port]?.direction !== 'out') return false
  const there = sidesReached(session, [other])
  return [...sidesReached(session, [port])].some(side => there.has(side))
}

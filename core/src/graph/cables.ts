// Walks along the cables of a room: from ports out, through units, to ports in. Whether a unit is on does not matter
// here.
import type { Cable, Unit } from '../session/rows'
import { byId, rows, type Session } from '../session/session'

export const portNode = (id: string): string => `port|${id}`
export const unitNode = (id: string): string => `unit|${id}`
export const cableFrom = (cable: Cable): string =>
  cable.fromPort !== null ? portNode(cable.fromPort) : unitNode(cable.fromUnit)
export const cableTo = (cable: Cable): string =>
  cable.toPort !== null ? portNode(cable.toPort) : unitNode(cable.toUnit)

/** Cables by the port or unit that they leave, each list in the order of their ids. */
export function cablesByStart(session: Session): Map<string, Cable[]> {
  const out = new Map<string, Cable[]>()
  for (const cable of rows(session, 'cable').sort(byId)) {
    const from = cableFrom(cable),
      list = out.get(from)
    if (list) list.push(cable)
    else out.set(from, [cable])
  }
  return out
}

/**
 * Ports and units that signal from some ports out comes to, nearest first, each with the cable by which it came; null
 * for the ports themselves.
 */
export function alongCables(session: Session, portsOut: readonly string[]): Map<string, Cable | null> {
  const byStart = cablesByStart(session)
  const cameBy = new Map<string, Cable | null>(portsOut.map(p => [portNode(p), null])),
    open = [...cameBy.keys()]
  for (let at = open.shift(); at !== undefined; at = open.shift()) {
    for (const cable of byStart.get(at) ?? []) {
      const to = cableTo(cable)
      if (!cameBy.has(to)) {
        cameBy.set(to, cable)
        open.push(to)
      }
    }
  }
  return cameBy
}

/** Units that signal from some ports out passes, nearest first. */
export const unitsAlong = (session: Session, portsOut: readonly string[]): Unit[] =>
  [...alongCables(session, portsOut).values()].flatMap(cable => session.unit[cable?.toUnit ?? ''] ?? [])

/** Ports in that signal from these ports out arrives at. */
export const portsReached = (session: Session, portsOut: readonly string[]): Set<string> =>
  new Set([...alongCables(session, portsOut)].flatMap(([, cable]) => (cable?.toPort ? [cable.toPort] : [])))

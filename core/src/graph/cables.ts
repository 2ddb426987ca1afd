// Walks along the cables of a room: from ports out, through units, to ports in, by what is plugged, by what is
// normalled while nothing is plugged, and by the routes inside an interface. Whether a unit is on does not matter here.
import { UNITS } from '../rig/units'
import type { Cable, Unit } from '../session/rows'
import { byId, rows, type Session } from '../session/session'

export const portNode = (id: string): string => `port|${id}`
export const unitNode = (id: string): string => `unit|${id}`
export const cableFrom = (cable: Cable): string =>
  cable.fromPort !== null ? portNode(cable.fromPort) : unitNode(cable.fromUnit)
export const cableTo = (cable: Cable): string =>
  cable.toPort !== null ? portNode(cable.toPort) : unitNode(cable.toUnit)

type End = 'from' | 'to'
const jackOf = (cable: Cable, end: End): string =>
  end === 'from' ? `${cableFrom(cable)}|${cable.fromJack}` : `${cableTo(cable)}|${cable.toJack}`
const isPlugged = (cable: Cable): boolean => cable.normalled === null && !cable.inside

/** “Line out 3”, “Tube amplifier, In”. */
export function endName(session: Session, cable: Cable, end: End): string {
  const [port, id, jack] =
    end === 'from' ? [cable.fromPort, cable.fromUnit, cable.fromJack] : [cable.toPort, cable.toUnit, cable.toJack]
  if (port !== null) return session.port[port]?.name ?? port
  const unit = session.unit[id ?? '']
  const name = UNITS[unit?.model ?? '']?.[end === 'from' ? 'outputs' : 'inputs'][jack]
  return [unit?.name, name].filter(Boolean).join(', ') || 'nowhere'
}
export const cableName = (session: Session, cable: Cable): string =>
  `${endName(session, cable, 'from')} → ${endName(session, cable, 'to')}`

/** The plug that opens a normalled connection, if there is one. */
export function plugOver(session: Session, cable: Cable): Cable | undefined {
  if (cable.normalled === null) return undefined
  const ends: End[] = cable.normalled === 'full' ? ['to', 'from'] : ['to']
  return rows(session, 'cable')
    .sort(byId)
    .find(other => isPlugged(other) && ends.some(end => jackOf(other, end) === jackOf(cable, end)))
}

/** What signal can run along: all but normalled connections that a plug opens. */
export const patchedCables = (session: Session): Cable[] =>
  rows(session, 'cable').filter(cable => !plugOver(session, cable))

/** Does a route inside an interface come back to where it begins? It would howl; it carries nothing. */
export const howls = (session: Session, cable: Cable): boolean =>
  cable.inside && cable.toPort !== null && alongCables(session, [cable.toPort]).has(cableFrom(cable))

/** Cables by the port or unit that they leave, each list in the order of their ids. */
export function cablesByStart(session: Session, cables = patchedCables(session)): Map<string, Cable[]> {
  const out = new Map<string, Cable[]>()
  for (const cable of cables.sort(byId)) {
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
  new Set(
    [...alongCables(session, portsOut).values()].flatMap(cable =>
      cable?.toPort && session.port[cable.toPort]?.direction === 'in' ? [cable.toPort] : []
    )
  )

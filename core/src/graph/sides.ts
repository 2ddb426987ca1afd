// Which sides of which units the signal from some ports out passes. A unit whose wires are apart (dual mono) has a side
// for each jack and may have as many owners; any other unit is one side.
import { rows, type Session } from '../session/session'
import { UNITS } from '../rig/units'

/** `unit|side` for every side of a unit that signal from these ports out reaches by cables. */
export function sidesReached(session: Session, portsOut: readonly string[]): Set<string> {
  const cables = rows(session, 'cable')
  const found = new Set<string>()
  let open = cables.filter(c => c.fromPort !== null && portsOut.includes(c.fromPort))
  while (open.length) {
    const next: typeof open = []
    for (const cable of open) {
      const unit = session.unit[cable.toUnit ?? '']
      if (!unit) continue
      const apart = !!UNITS[unit.model]?.apart
      const side = `${cable.toUnit}|${apart ? cable.toJack : 0}`
      if (found.has(side)) continue
      found.add(side)
      next.push(...cables.filter(c => c.fromUnit === cable.toUnit && (!apart || c.fromJack === cable.toJack)))
    }
    open = next
  }
  return found
}

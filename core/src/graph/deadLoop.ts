// Why nothing comes back from a loop, read from its wiring.
import type { Loop } from '../session/rows'
import type { Session } from '../session/session'
import { alongCables, cablesByStart, unitNode } from './cables'
import { unitClosed } from './closed'

/** Follows the cables from the ports out and says where signal stops. */
export function whyNothing(session: Session, loop: Loop): string {
  const byStart = cablesByStart(session)
  const units = new Map(Object.values(session.unit).map(u => [unitNode(u.id), u]))
  let lastName = session.port[loop.outPorts[0] ?? '']?.name ?? loop.name
  for (const node of alongCables(session, loop.outPorts).keys()) {
    const unit = units.get(node)
    if (unit) lastName = unit.name
    if (unit && unitClosed(unit)) return `nothing came back: ${unit.name} is off`
    if (byStart.get(node)?.some(c => c.toPort && loop.inPorts.includes(c.toPort)))
      return 'nothing came back, although the cables lead there: check levels and settings on the way'
  }
  return `nothing came back: no cable leads from ${lastName} to ${session.port[loop.inPorts[0] ?? '']?.name ?? 'the return'}`
}

// Why nothing comes back from a loop, read from its wiring.
import { UNITS } from '../rig/units'
import type { Loop } from '../session/rows'
import { rows, type Session } from '../session/session'

/** Follows the cables from the ports out and says where signal stops. */
export function whyNothing(session: Session, loop: Loop): string {
  const cables = rows(session, 'cable')
  const seen = new Set<string>()
  let open = loop.outPorts.map(p => `p:${p}`)
  let lastName = session.port[loop.outPorts[0]]?.name ?? loop.name
  while (open.length) {
    const next: string[] = []
    for (const node of open) {
      if (seen.has(node)) continue
      seen.add(node)
      if (node.startsWith('u:')) {
        const unit = session.unit[node.slice(2)]
        lastName = unit.name
        if (!unit.powered && !UNITS[unit.model]?.passive) return `nothing came back: ${unit.name} is off`
      }
      for (const c of cables) {
        if (node === (c.fromPort ? `p:${c.fromPort}` : `u:${c.fromUnit}`)) {
          if (c.toPort && loop.inPorts.includes(c.toPort)) return 'nothing came back, although the cables lead there: check levels and settings on the way'
          next.push(c.toPort ? `p:${c.toPort}` : `u:${c.toUnit}`)
        }
      }
    }
    open = next
  }
  const wanted = session.port[loop.inPorts[0]]?.name ?? 'the return'
  return `nothing came back: no cable leads from ${lastName} to ${wanted}`
}

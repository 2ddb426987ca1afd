// The part of a rig that a loop's signal passes, as text: equal text, equal measurement. Used by pings and
// fingerprints.
import type { Loop } from '../session/rows'
import { rowOf, type Session } from '../session/session'
import { cablesByStart, portNode, unitNode } from './cables'
import { portDbu } from './portDbu'

export function wiringText(session: Session, loop: Loop): string {
  const seen = new Set<string>(),
    lines: string[] = []
  let open = loop.outPorts.map(p => `p:${p}`)
  const byStart = cablesByStart(session)
  while (open.length) {
    const next: string[] = []
    for (const node of open) {
      if (seen.has(node)) continue
      seen.add(node)
      const port = node.startsWith('p:') ? session.port[node.slice(2)] : null
      if (port) {
        const device = rowOf(session, 'interface', port.interface)
        lines.push(
          `port ${port.id} ${port.signal} ${portDbu(session, port.id)} ${device.trueLatencySamples} ${device.noiseDbfs} ${device.dcCornerHz}${device.clock === 'free' ? ` free ${device.driftPpm}` : ''}${port.trimDb ? ` trim ${port.trimDb}` : ''}`
        )
      } else {
        const unit = rowOf(session, 'unit', node.slice(2))
        lines.push(
          `unit ${unit.id} ${unit.model} ${unit.powered} ${JSON.stringify(Object.entries(unit.settings).sort(([a], [b]) => (a < b ? -1 : 1)))}${unit.inverts ? ' turned' : ''}`
        )
      }
      for (const c of byStart.get(node.startsWith('p:') ? portNode(node.slice(2)) : unitNode(node.slice(2))) ?? []) {
        const to = c.toPort ? `p:${c.toPort}` : `u:${c.toUnit}`
        lines.push(
          `cable ${node}:${c.fromJack} ${to}:${c.toJack}${c.inverts ? ' turned' : ''}${c.inside ? ` inside ${c.levelDb}` : ''}`
        )
        next.push(to)
      }
    }
    open = next
  }
  return lines.join('\n')
}

// A cable leads from a port out or a unit's output to a port in or a unit's input, inside one rig; a jack takes one
// plug and is normalled to one other. A route inside an interface leads from one of its ports to another.
import { cableName } from '../graph/cables'
import { UNITS } from '../rig/units'
import type { Row } from '../session/rows'
import { byId, rows, type Session } from '../session/session'
import { defineRule, type Breach } from './rule'

type Cable = Row<'cable'>

function routeFault(session: Session, { fromPort, fromUnit, toPort, toUnit }: Cable): string | null {
  if (fromUnit !== null || toUnit !== null || fromPort === null || toPort === null)
    return 'is a route inside an interface and leads from a port to a port'
  if (fromPort === toPort) return `leads from “${session.port[fromPort]?.name}” to itself`
  const [from, to] = [session.port[fromPort], session.port[toPort]]
  return !from || !to || from.interface === to.interface
    ? null
    : `is a route inside an interface, and “${from.name}” and “${to.name}” are of two`
}

function endFault(session: Session, cable: Cable, side: 'from' | 'to'): string | null {
  const [port, unit, jack] =
    side === 'from' ? [cable.fromPort, cable.fromUnit, cable.fromJack] : [cable.toPort, cable.toUnit, cable.toJack]
  if ((port === null) === (unit === null)) return port === null ? `leads ${side} nowhere` : `leads ${side} two places`
  if (port !== null) {
    const row = session.port[port]
    if (!row) return null
    if (!cable.inside && (row.direction === 'out') !== (side === 'from'))
      return `leads ${side} “${row.name}”, which is ${row.direction === 'out' ? 'an output' : 'an input'}`
    return session.interface[row.interface]?.rig === cable.rig
      ? null
      : `leads ${side} “${row.name}”, which is in another rig`
  }
  const row = session.unit[unit ?? ''],
    model = row && UNITS[row.model]
  if (row && row.rig !== cable.rig) return `leads ${side} “${row.name}”, which is in another rig`
  const jacks = side === 'from' ? model?.outputs : model?.inputs
  return !row || !jacks || jack < jacks.length
    ? null
    : `leads ${side} jack ${jack + 1} of “${row.name}”, which has ${jacks.length}`
}

const twice = ({ inside, normalled }: Cable): string =>
  inside
    ? 'where that route leads already'
    : normalled
      ? 'which is normalled to another one already'
      : 'where another one is plugged in already'

function* faults(session: Session): Iterable<{ cable: Cable; fault: string }> {
  const plugs = new Set<string>()
  for (const cable of rows(session, 'cable').sort(byId)) {
    const fault =
      (cable.inside && routeFault(session, cable)) ||
      (endFault(session, cable, 'from') ?? endFault(session, cable, 'to'))
    const way = cable.inside ? `inside ${cable.fromPort} ` : cable.normalled ? 'normalled ' : ''
    const jack = `${way}${cable.toPort ? `port ${cable.toPort}` : `unit ${cable.toUnit} ${cable.toJack}`}`
    if (fault) yield { cable, fault }
    else if (plugs.has(jack))
      yield {
        cable,
        fault: `goes into “${session.port[cable.toPort ?? '']?.name ?? session.unit[cable.toUnit ?? '']?.name}”, ${twice(cable)}`
      }
    else plugs.add(jack)
  }
}

const said = (session: Session, cable: Cable): string =>
  `The ${cable.inside ? 'route' : 'cable'} ${cableName(session, cable)}`

export const cables = defineRule({
  says: 'a cable has two right ends, and a jack takes one plug',
  depends: {
    cable: ['rig', 'fromPort', 'fromUnit', 'fromJack', 'toPort', 'toUnit', 'toJack', 'normalled', 'inside'],
    port: ['direction', 'interface'],
    unit: ['rig', 'model'],
    interface: ['rig']
  },
  *find({ session }) {
    for (const { cable, fault } of faults(session))
      yield { kind: 'badArguments', about: [cable.id], message: `${said(session, cable)} ${fault}` } satisfies Breach
  },
  mend: session =>
    [...faults(session)].map(({ cable, fault }) => {
      const words = said(session, cable)
      delete session.cable[cable.id]
      return `${words} ${fault}; it was removed`
    })
})

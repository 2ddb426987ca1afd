import { patchedCables } from '../graph/cables'
import { holderOf } from '../graph/holder'
import { portDbu } from '../graph/portDbu'
import { isElsewhere } from '../graph/room'
import { UNITS } from '../rig/units'
import type { Cable } from '../session/rows'
import { rowOf, rows, type Session } from '../session/session'
import type { Check } from './check'

/** A line out that is in use and plugged straight into the instrument input of a unit. */
export const noAttenuator: Check = {
  id: 'noAttenuator',
  find: (session, network) =>
    patchedCables(session).flatMap(cable => {
      const { fromPort, toUnit, toJack } = cable
      if (fromPort === null || toUnit === null) return []
      const port = rowOf(session, 'port', fromPort),
        unit = rowOf(session, 'unit', toUnit),
        model = UNITS[unit.model]
      if (port.signal !== 'analog' || !model?.instrument?.includes(toJack)) return []
      const isFed =
        (network.feedsToPort.get(fromPort) ?? []).some(f => !f.muted && f.levelDb !== null) ||
        rows(session, 'loop').some(l => l.outPorts.includes(fromPort) && holderOf(session, l)?.state === 'on')
      if (!isFed || isElsewhere(session, [fromPort])) return []
      return [
        {
          sentence: `${port.name} goes straight into “${model.inputs[toJack]}” of ${unit.name}.`,
          about: [fromPort, toUnit, cable.id],
          consequence: `A line out is low in impedance and reaches ${portDbu(session, fromPort)} dBu; an instrument input expects a pickup, high in impedance and some 20 dB lower: it is driven too hard and sounds brighter than it did.`,
          fixes: [{ label: 'Put a re-amp attenuator between', edit: between(session, cable, fromPort, toUnit) }]
        }
      ]
    })
}

function between(session: Session, cable: Cable, port: string, unit: string) {
  const id = `${cable.id}-attenuator`,
    { rig, order } = rowOf(session, 'unit', unit)
  const edits = [
    { verb: 'setUnit', args: { id, rig, fields: { name: 'Re-amp attenuator', model: 'reamp-attenuator', order } } },
    { verb: 'addCable', args: { id: `${id}-in`, rig, from: { port }, to: { unit: id, jack: 0 } } },
    { verb: 'addCable', args: { id: `${id}-out`, rig, from: { unit: id, jack: 0 }, to: { unit, jack: cable.toJack } } }
  ]
  return { verb: 'several', args: { label: `Re-amp attenuator before ${rowOf(session, 'unit', unit).name}`, edits } }
}

import { pingIsStale } from '../measure/ping'
import { rowOf, rows } from '../session/session'
import type { Check } from './check'

/** Loops whose delay is not known, or not any more. */
export const loopTime: Check = {
  id: 'loopTime',
  find: session =>
    rows(session, 'loop')
      .filter(
        l =>
          l.compensated && l.outPorts.length && l.inPorts.length && (!l.ping || !l.applied || pingIsStale(session, l))
      )
      .map(l => {
        const port = rowOf(session, 'port', l.outPorts[0] ?? '')
        const device = rowOf(session, 'interface', port.interface)
        const state = !l.ping
          ? 'has not been pinged'
          : pingIsStale(session, l)
            ? 'was pinged before its rig changed'
            : 'has a ping that is not applied'
        return {
          sentence: `Loop “${l.name}” ${state}.`,
          about: [l.id],
          consequence:
            l.ping && l.applied
              ? 'Its return may be early or late against the rest.'
              : `Its return is aligned by the driver's figure of ${device.reportedLatencySamples} samples, which may be wrong.`,
          fixes:
            l.ping && !l.applied
              ? [{ label: 'Apply the ping', edit: { verb: 'setLoop', args: { id: l.id, fields: { applied: true } } } }]
              : []
        }
      })
}

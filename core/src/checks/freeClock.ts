import { rowOf, rows } from '../session/session'
import type { Check } from './check'

/** Loops that leave by one clock and return by another: no delay holds for long. */
export const freeClock: Check = {
  id: 'freeClock',
  find: session =>
    rows(session, 'loop')
      .filter(l => l.outPorts.length && l.inPorts.length)
      .flatMap(l => {
        const devices = [...new Set([...l.outPorts, ...l.inPorts].map(p => rowOf(session, 'port', p).interface))].map(
          id => rowOf(session, 'interface', id)
        )
        const free = devices.filter(d => d.clock === 'free')
        if (devices.length < 2 || !free.length) return []
        return [
          {
            sentence: `Loop “${l.name}” leaves and returns by different clocks: ${free.map(d => `${d.name} runs free by ${d.driftPpm} ppm`).join(', ')}.`,
            about: [l.id, ...free.map(d => d.id)],
            consequence: 'Its return drifts against the rest; compensation cannot hold it in place.',
            fixes: free.map(d => ({
              label: `Lock ${d.name} to the session’s clock`,
              edit: { verb: 'setInterface', args: { id: d.id, fields: { clock: 'locked' } } }
            }))
          }
        ]
      })
}

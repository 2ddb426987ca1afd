// What a session believes about the time that a loop takes, and compensates.
import type { Loop } from '../session/rows'
import { byId, rows, type Session } from '../session/session'

/** Round trip in samples that the session compensates: as pinged and applied, else as the driver reports. */
export function believedDelay(session: Session, loop: Loop): number {
  if (loop.applied && loop.ping) return loop.ping.delaySamples
  const port = session.port[loop.outPorts[0] ?? loop.inPorts[0]]
  return port ? session.interface[port.interface].reportedLatencySamples : 0
}

/** The loop by which what comes in at a port is compensated: the first that names it. */
export const loopReturningAt = (session: Session, port: string): Loop | undefined =>
  rows(session, 'loop')
    .sort(byId)
    .find(l => l.inPorts.includes(port))

/** Samples by which what comes in at a port is compensated; null where it is not. */
export function compensationAt(session: Session, port: string): number | null {
  const loop = loopReturningAt(session, port)
  return loop?.compensated ? believedDelay(session, loop) : null
}

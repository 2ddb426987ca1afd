// One works in one room at a time: port feeds and input feeds of other rigs are kept and carry nothing.
import { settings, type Session } from '../session/session'

/** Are all of these ports in other rigs than the one that is worked in? Never, where none is. */
export function isElsewhere(session: Session, ports: readonly string[]): boolean {
  const { rig } = settings(session)
  return rig !== null && ports.length > 0 && ports.every(p => rigOfPort(session, p) !== rig)
}

export const rigOfPort = (session: Session, port: string): string | undefined =>
  session.interface[session.port[port]?.interface ?? '']?.rig

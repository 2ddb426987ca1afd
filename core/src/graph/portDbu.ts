// What a port makes of 0 dBFS, in dBu: its own reference, or that of its interface.
import { rowOf, type Session } from '../session/session'

export function portDbu(session: Session, id: string): number {
  const port = rowOf(session, 'port', id)
  return port.referenceDbu ?? rowOf(session, 'interface', port.interface).referenceDbu
}

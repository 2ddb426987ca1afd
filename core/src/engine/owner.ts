// Whose an operation is, by its key.
import type { Session } from '../session/session'

/** Owner of an operation by its key: a slot, a channel, or neither (ports, units, ears, meters). */
export function owner(session: Session, key: string): { channel: string | null, slot: string | null } {
  const names = key.replace(/^(clips|meter)\//, '')
  const slot = longest(session.slot, names)
  if (slot) return { channel: session.slot[slot].channel, slot }
  return { channel: longest(session.channel, names), slot: null }
}

/** Ids may hold slashes: the longest one that the name begins with. */
function longest(table: Record<string, unknown>, name: string): string | null {
  for (let end = name.length; end > 0; end = name.lastIndexOf('/', end - 1)) if (name.slice(0, end) in table) return name.slice(0, end)
  return null
}

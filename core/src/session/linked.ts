// Linked strips: what else moves when one of them is moved.
import { rows, type Session } from './session'

export type Linked = 'levels' | 'mutes' | 'solos'

export const linkOf = (session: Session, channel: string) =>
  rows(session, 'link').find(l => l.members.includes(channel))

/** These channels and every other one that is linked to one of them in that respect. */
export function linkedWith(session: Session, ids: readonly string[], what: Linked): string[] {
  const all = new Set(ids)
  for (const link of rows(session, 'link'))
    if (link[what] && link.members.some(m => all.has(m))) link.members.forEach(m => all.add(m))
  return [...all].filter(id => id in session.channel)
}

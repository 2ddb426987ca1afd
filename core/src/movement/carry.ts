// Envelopes that go along where channels are copied, and those that are left without what they moved.
import { peekRows } from '../session/draft'
import type { Envelope } from '../session/rows'
import { derivedId } from '../session/ids'
import type { Session } from '../session/session'
import { channelOf, targetOf } from './targets'

/**
 * Copies of the envelopes of a channel for its copy.
 * @param renamed the id that a feed or slot has in the copy, null where it has none
 */
export function carried(
  session: Session,
  from: string,
  to: string,
  prefix: string,
  renamed: (owner: 'feed' | 'slot', row: string) => string | null
): Envelope[] {
  return peekRows(session, 'envelope').flatMap(e => {
    const { owner, row } = targetOf(e)
    if (channelOf(session, { owner, row, field: e.field }) !== from) return []
    const other = owner === 'channel' ? to : renamed(owner, row)
    return other ? [{ ...e, id: derivedId(prefix, e.id), [owner]: other }] : []
  })
}

/** Envelopes go with the row that they move. */
export function dropLeft(draft: Session): void {
  for (const e of peekRows(draft, 'envelope')) {
    const { owner, row } = targetOf(e)
    if (!(row in draft[owner])) delete draft.envelope[e.id]
  }
}

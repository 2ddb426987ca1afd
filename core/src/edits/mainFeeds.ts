// The main feeds of channels inside a draft.
import { peekRows } from '../session/draft'
import type { Session } from '../session/session'

/** Ids of main feeds by the channel they leave, in the order of their making. */
export function mainFeeds(draft: Session, from: readonly string[]): Map<string, string[]> {
  const wanted = new Set(from),
    found = new Map<string, string[]>()
  for (const feed of peekRows(draft, 'feed')) {
    if (feed.kind !== 'main' || !feed.from || !wanted.has(feed.from)) continue
    const list = found.get(feed.from)
    if (list) list.push(feed.id)
    else found.set(feed.from, [feed.id])
  }
  return found
}

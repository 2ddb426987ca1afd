// The main feeds of channels inside a draft. Reading every row through the draft would make a proxy of each: what was
// there before is read from the original, and only what has come since from the draft.
import { isDraft, original } from 'immer'
import type { Session } from '../session/session'

/** Ids of main feeds by the channel they leave, in the order of their making. */
export function mainFeeds(draft: Session, from: readonly string[]): Map<string, string[]> {
  const wanted = new Set(from)
  const before = (isDraft(draft.feed) ? original(draft.feed) : draft.feed) as Session['feed']
  const found = new Map<string, string[]>()
  for (const id of Object.keys(draft.feed)) {
    const feed = before[id] ?? draft.feed[id]
    if (feed.kind !== 'main' || !feed.from || !wanted.has(feed.from)) continue
    const list = found.get(feed.from)
    if (list) list.push(id)
    else found.set(feed.from, [id])
  }
  return found
}

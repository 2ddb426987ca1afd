// A print takes over the place of what it was made from: main feeds and sends that leave the source at or after the
// printed tap carry nothing while the print stands there.
import type { Feed, Print, Tap } from '../session/rows'
import type { Network } from './network'

/** Order of the taps along a channel. */
const ORDER: Record<Tap, number> = { input: 0, pre: 1, post: 2 }

/** Main feeds and sends: what a print stands for and a channel's mute closes. Keys and ports are asked one by one. */
export const isAudible = (feed: Feed): boolean => feed.kind === 'main' || feed.kind === 'send'

/** The print that stands in the place of a feed's source; undefined where the feed carries. */
export function printInPlaceOf({ session, printsOf }: Network, feed: Feed): Print | undefined {
  if (feed.from === null || !isAudible(feed)) return undefined
  return printsOf
    .get(feed.from)
    ?.find(
      p =>
        p.takesOver && p.channel !== feed.from && ORDER[feed.tap] >= ORDER[p.tap] && !session.channel[p.channel]?.parked
    )
}

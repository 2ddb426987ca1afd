// A print takes over the place of what it was made from: main feeds and sends that leave the source at or after the
// printed tap carry nothing while the print stands there.
import type { Feed, Print, Tap } from '../session/rows'
import { rows, type Session } from '../session/session'

/** Order of the taps along a channel. */
const ORDER: Record<Tap, number> = { input: 0, pre: 1, post: 2 }

/** The print that stands in the place of a feed's source; undefined where the feed carries. */
export const printInPlaceOf = (session: Session, feed: Feed): Print | undefined =>
  feed.kind !== 'main' && feed.kind !== 'send'
    ? undefined
    : rows(session, 'print').find(
        p =>
          p.takesOver &&
          p.source === feed.from &&
          p.channel !== feed.from &&
          ORDER[feed.tap] >= ORDER[p.tap] &&
          !session.channel[p.channel]?.parked
      )

// A print takes over the place of what it was made from: main feeds and sends that leave the source at or after the
// printed tap carry nothing while the print stands there.
import type { Feed, SourcedPrint, Tap } from '../session/rows'
import type { Network } from './network'

/** Order of the taps along a channel. */
const ORDER: Record<Tap, number> = { input: 0, pre: 1, post: 2 }

/** Main feeds and sends: what a print stands for and a channel's mute closes. Keys and ports are asked one by one. */
export const isAudible = (feed: Feed): boolean => feed.kind === 'main' || feed.kind === 'send'

/** The print that stands in the place of a feed's source; undefined where the feed carries. */
export function printInPlaceOf({ session, printsOf }: Network, feed: Feed): SourcedPrint | undefined {
  if (feed.from === null || !isAudible(feed)) return undefined
  return printsOf
    .get(feed.from)
    ?.find(
      p =>
        p.takesOver && p.channel !== feed.from && ORDER[feed.tap] >= ORDER[p.tap] && !session.channel[p.channel]?.parked
    )
}

/** Where main feeds lead as they are heard: where a print stands in the place of one, to the print. */
export const heardNext = (network: Network, id: string): string[] => [
  ...new Set(network.mainsFrom(id).map(f => printInPlaceOf(network, f)?.channel ?? f.to))
]

/** What leads to a channel as it is heard: main feeds in whose place no print stands, and what it stands for itself. */
export function heardBefore(network: Network, id: string): string[] {
  const print = network.printOn.get(id)
  const standsFor = print && network.mainsFrom(print.source).some(f => printInPlaceOf(network, f) === print)
  return [
    ...network
      .mainsTo(id)
      .filter(f => !printInPlaceOf(network, f))
      .map(f => f.from),
    ...(standsFor ? [print.source] : [])
  ]
}

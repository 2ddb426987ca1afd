// Channels that are heard through others alone: without those nobody would miss them.
import type { Feed } from '../session/rows'
import type { Network } from './network'
import { printInPlaceOf } from './takeOver'

/**
 * @param starts channels in whose place something else is heard
 * @returns those of them that lead nowhere else, and every channel that leads only into such
 */
export function onlyFor(network: Network, starts: Iterable<string>): Set<string> {
  const found = new Set<string>()
  const leadsIn = (feed: Feed): boolean => {
    if (feed.muted || feed.levelDb === null) return true
    switch (feed.kind) {
      case 'main':
      case 'send':
        return found.has(feed.to) || printInPlaceOf(network, feed) !== undefined
      case 'key':
        return found.has(network.session.slot[feed.slot]?.channel ?? '')
      case 'port':
        return network.channelsBehind(feed.ports).every(id => found.has(id))
      case 'input':
        return true
    }
  }
  const open = [...starts]
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    if (found.has(at) || !(network.feedsFrom.get(at) ?? []).every(leadsIn)) continue
    found.add(at)
    // What did not lead in only may do so now.
    open.push(...network.upstream(at))
    for (const slot of network.slots.get(at) ?? []) open.push(...(network.keysTo.get(slot.id) ?? []).map(k => k.from))
  }
  return found
}

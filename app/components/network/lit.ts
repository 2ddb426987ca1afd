// What a selection lights: everything that feeds it, everything it reaches, and the feeds on the way, as they are
// heard: a print leads on in the place of its source.
import type { Feed } from '@nullet/core/session/rows'
import type { Network } from '@nullet/core/graph/network'
import { heardBefore, heardNext, printInPlaceOf } from '@nullet/core/graph/takeOver'

export function litBy(network: Network, selected: readonly string[]): { channels: Set<string>; feeds: Set<string> } {
  const present = selected.filter(id => network.channel(id))
  const open = (f: Feed) => !printInPlaceOf(network, f)
  const up = network.reach(present, id => [
    ...heardBefore(network, id),
    ...(network.feedsTo.get(id) ?? []).filter(open).flatMap(f => f.from ?? [])
  ])
  const down = network.reach(present, id => [
    ...heardNext(network, id),
    ...network
      .next(id)
      .filter(open)
      .map(f => f.to)
  ])
  const channels = new Set([...up, ...down])
  const feeds = new Set<string>()
  for (const id of channels) {
    for (const f of (network.feedsFrom.get(id) ?? []).filter(open)) {
      const inside = f.to !== null && ((up.has(id) && up.has(f.to)) || (down.has(id) && down.has(f.to)))
      const own = present.includes(id)
      if (inside || own) feeds.add(f.id)
    }
  }
  for (const [slot, keys] of network.keysTo) {
    if (present.includes(network.session.slot[slot]?.channel ?? ''))
      keys.forEach(k => {
        feeds.add(k.id)
        channels.add(k.from)
      })
  }
  for (const id of present) {
    for (const f of network.feedsFrom.get(id) ?? [])
      if (f.kind === 'key') channels.add(network.session.slot[f.slot]!.channel)
  }
  return { channels, feeds }
}

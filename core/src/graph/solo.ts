// Which feeds are open while something is soloed.
// S soloed; U all upstream of S; D all downstream of S. A feed a → b is open iff a ∈ S ∪ D, or a ∈ U and b ∈ S ∪ U,
// or a is solo-safe or downstream of a safe channel. Key feeds and feeds from earlier taps to ports stay open.
import type { Feed } from '../session/rows'
import { rows } from '../session/session'
import type { Network } from './network'

/** Null when nothing is soloed. */
export function soloGate(network: Network): ((feed: Feed) => boolean) | null {
  const channels = rows(network.session, 'channel')
  const soloed = channels.filter(c => c.soloed).map(c => c.id)
  if (!soloed.length) return null
  const up = network.reach(soloed, id => network.upstream(id))
  const down = network.reach(soloed, id => network.downstream(id))
  const safe = network.reach(
    channels.filter(c => c.safe).map(c => c.id),
    id => network.downstream(id)
  )
  return feed => {
    if (feed.kind === 'key' || feed.kind === 'input') return true
    if (feed.kind === 'port' && feed.tap !== 'post') return true
    const a = feed.from
    return down.has(a) || safe.has(a) || (up.has(a) && feed.to !== null && up.has(feed.to))
  }
}

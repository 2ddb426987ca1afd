// How many steps a channel is from the tracks, along main feeds: the columns of the map.
import { rows } from '../session/session'
import type { Network } from './network'

export function tiers(network: Network): Map<string, number> {
  const tier = new Map<string, number>()
  const of = (id: string): number => {
    const known = tier.get(id)
    if (known !== undefined) return known
    tier.set(id, 0)
    const before = (network.feedsTo.get(id) ?? []).filter(f => f.kind === 'main').map(f => of(f.from))
    const value = network.channel(id)?.kind === 'track' ? 0 : 1 + Math.max(0, ...before)
    tier.set(id, value)
    return value
  }
  rows(network.session, 'channel').forEach(c => of(c.id))
  return tier
}

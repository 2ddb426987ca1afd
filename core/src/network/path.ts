// The steps from a channel to the ears: what feeds it, the chain of main feeds, and where else it goes.
import type { Feed } from '../session/rows'
import { settings } from '../session/session'
import type { Network } from './network'

/** Channels from this one to what is heard (or to the end), by main feeds; a bus that splits takes the way that is heard. */
export function pathToEars(network: Network, id: string): string[] {
  const heard = settings(network.session).heardChannel
  const onward = (at: string) => (network.feedsFrom.get(at) ?? []).filter(f => f.kind === 'main' && f.to).map(f => f.to!)
  const reachesHeard = (at: string) => heard !== null && network.reach([at], onward).has(heard)
  const path = [id]
  for (let at = id; at !== heard;) {
    const options = onward(at)
    const next = options.find(reachesHeard) ?? options[0]
    if (!next || path.includes(next)) break
    path.push(at = next)
  }
  return path
}

export const fedBy = (network: Network, id: string): Feed[] => network.feedsTo.get(id) ?? []

export const alsoGoesTo = (network: Network, id: string): Feed[] =>
  (network.feedsFrom.get(id) ?? []).filter(f => f.kind !== 'main')

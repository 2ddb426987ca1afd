// Contribution stems: each carries its own share of the shared returns, so that stems through linear paths sum to the
// mix. And the reasons why some do not.
import { Network } from '../graph/network'
import { LOOP, PROCESSORS, slotLabel } from '../processors/table'
import { rows, type Session } from '../session/session'

/** Tracks that reach this channel along main feeds. */
export function tracksOf(network: Network, channel: string): Set<string> {
  const reached = network.reach([channel], id => network.mainsTo(id).map(f => f.from))
  return new Set([...reached].filter(id => network.channel(id)?.kind === 'track'))
}

export interface Culprit {
  kind: 'nonlinear' | 'keyed' | 'loop' | 'unrouted' | 'doubled'
  about: string
  reason: string
}

/** What keeps these stems from adding up to a main: processing that several of them share, tracks in none or in two. */
export function whatBreaksTheSum(session: Session, main: string, stems: string[]): Culprit[] {
  const network = new Network(session)
  const members = stems.map(s => tracksOf(network, s))
  const found: Culprit[] = []
  const shared = rows(session, 'channel')
    .filter(c => !c.parked)
    .filter(channel => {
      if (!network.reach([channel.id], id => network.next(id).map(f => f.to)).has(main)) return false
      const sources = network.reach([channel.id], id => network.upstream(id))
      return members.filter(m => [...m].some(t => sources.has(t))).length > 1
    })
  for (const channel of shared) {
    for (const slot of network.slots.get(channel.id) ?? []) {
      if (slot.state !== 'on') continue
      const what = `${slotLabel(slot.processor)} on “${channel.name}”`
      if (slot.processor === LOOP)
        found.push({
          kind: 'loop',
          about: slot.id,
          reason: `${what} is an analog pass: its noise, and what its units bend, is in every stem`
        })
      else if (PROCESSORS[slot.processor] && !PROCESSORS[slot.processor].linear) {
        const keyed = network.keysTo.has(slot.id)
        found.push({
          kind: keyed ? 'keyed' : 'nonlinear',
          about: slot.id,
          reason: `${what} reacts to the sum of several stems`
        })
      }
    }
  }
  for (const track of tracksOf(network, main)) {
    const count = members.filter(m => m.has(track)).length
    const name = session.channel[track].name
    if (count === 0)
      found.push({ kind: 'unrouted', about: track, reason: `“${name}” reaches the main outside every stem` })
    if (count > 1) found.push({ kind: 'doubled', about: track, reason: `“${name}” is in ${count} stems` })
  }
  return found
}

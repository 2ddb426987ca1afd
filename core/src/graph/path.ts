// The steps from a channel to the ears: what feeds it, the stages it passes (through the rig too), where else it goes.
// This is the way as it is drawn, whether something on it is closed or not (whySilent.ts tells): it goes from channel
// to channel, not along the table of ways.
import { LOOP } from '../processors/table'
import type { Cable, Feed } from '../session/rows'
import { settings } from '../session/session'
import { alongCables, cableFrom, portNode } from './cables'
import { nodeOf } from './edges'
import type { Network } from './network'
import { isElsewhere } from './room'
import { heardBefore, heardNext } from './takeOver'

/**
 * A stage on the way: a channel, or what lies between two channels outside: ports and units. A loop lies inside its
 * channel.
 */
export interface Step {
  kind: 'channel' | 'loop' | 'port' | 'unit'
  id: string
}

const portsOf = (network: Network, id: string): string[] =>
  (network.feedsFrom.get(id) ?? [])
    .filter(f => f.kind === 'port' && !isElsewhere(network.session, f.ports))
    .flatMap(f => f.ports)

const inputsOf = (network: Network, id: string): string[] =>
  (network.feedsTo.get(id) ?? [])
    .filter(f => f.kind === 'input' && !isElsewhere(network.session, f.ports))
    .flatMap(f => f.ports)

/** Along main feeds: as they are drawn, whatever stands in their place, or as they are heard. */
interface Way {
  next(network: Network, id: string): string[]
  before(network: Network, id: string): string[]
}
const ROUTED: Way = {
  next: (network, id) => network.mainsFrom(id).map(f => f.to),
  before: (network, id) => network.mainsTo(id).map(f => f.from)
}
const HEARD: Way = { next: heardNext, before: heardBefore }

/**
 * Channels from this one to what is heard (or to the end), by main feeds and by ports; a bus that splits takes the way
 * that is heard.
 */
export const pathToEars = (network: Network, id: string): string[] => pathAlong(network, id, ROUTED)

/** The same as it is really heard: through the print that stands in a channel's place. */
export const heardPath = (network: Network, id: string): string[] => pathAlong(network, id, HEARD)

function pathAlong(network: Network, id: string, way: Way): string[] {
  const heard = settings(network.session).heardChannel
  const onward = (at: string) => {
    const ports = portsOf(network, at),
      mains = way.next(network, at)
    return ports.length ? [...mains, ...network.channelsBehind(ports)] : mains
  }
  const towards =
    heard === null
      ? new Set<string>()
      : network.reach([heard], at => [...way.before(network, at), ...network.channelsBefore(inputsOf(network, at))])
  const path = [id]
  for (let at = id; at !== heard;) {
    const options = onward(at)
    const next = options.find(o => towards.has(o)) ?? options[0]
    if (!next || path.includes(next)) break
    path.push((at = next))
  }
  return path
}

/** The same way with everything on it: loops in slots that are on, and ports and units where it leaves the session. */
export function stagesToEars(network: Network, id: string): Step[] {
  const channels = heardPath(network, id)
  return channels.flatMap((at, i): Step[] => {
    const loops = (network.slots.get(at) ?? [])
      .filter(s => s.processor === LOOP && s.loop && s.state === 'on')
      .map((s): Step => ({ kind: 'loop', id: s.loop! }))
    const next = channels[i + 1]
    const outside = next === undefined || heardNext(network, at).includes(next) ? [] : throughRig(network, at, next)
    return [{ kind: 'channel', id: at }, ...loops, ...outside]
  })
}

/** Port out, units, port in: the shortest way by cables from one channel's port feeds to another's input feeds. */
function throughRig(network: Network, from: string, to: string): Step[] {
  const ends = inputsOf(network, to).map(portNode)
  const cameBy = alongCables(network.session, portsOf(network, from))
  const way: Step[] = []
  for (let at = [...cameBy.keys()].find(node => ends.includes(node)); at; at = back(cameBy.get(at)))
    way.unshift(stepAt(at))
  return way
}

const back = (cable: Cable | null | undefined) => (cable ? cableFrom(cable) : undefined)
const stepAt = (node: string): Step => {
  const { kind, id } = nodeOf(node)
  return { kind: kind as 'port' | 'unit', id }
}

export const fedBy = (network: Network, id: string): Feed[] => network.feedsTo.get(id) ?? []

export const alsoGoesTo = (network: Network, id: string): Feed[] =>
  (network.feedsFrom.get(id) ?? []).filter(f => f.kind !== 'main')

// Outputs as channels: what goes to a pair of ports goes through a bus first, which has a name, a fader, slots and a
// meter, and alone leads there.
import { sameList } from '../foundation/lists'
import { holderOf } from '../graph/holder'
import { rigOfPort } from '../graph/room'
import { LAYOUTS } from '../session/layouts'
import type { EditMessage } from '../session/editMessage'
import type { Channel, PortFeed, SendFeed } from '../session/rows'
import { byId, rowOf, rows, type Session } from '../session/session'
import { portsOfRig } from './outputs'

/** “Loft out 3–4”, “Digital L–R”: what both names begin with once. */
export function pairName([first, second]: readonly string[]): string {
  if (second === undefined) return first ?? ''
  const cut = first!.search(/\S+$/)
  return second.startsWith(first!.slice(0, cut)) ? `${first}–${second.slice(cut)}` : `${first}, ${second}`
}

export interface OutputPlace {
  ports: string[]
  name: string
  /** The bus that is this output, where there is one. */
  channel: Channel | undefined
  /** Port feeds to exactly these ports that a bus could take in; what goes to a unit dry is not among them. */
  feeds: PortFeed[]
  /** Why it cannot become a channel now, in a clause; null where it can. */
  refused: string | null
}

/** Ports out of a rig in pairs, in their order; what is left over at the end is one by itself. */
export function outputPlaces(session: Session, rig: string): OutputPlace[] {
  const ports = portsOfRig(session, rig, 'out')
  const into = rows(session, 'feed')
    .filter((f): f is PortFeed => f.kind === 'port')
    .sort(byId)
  const held = new Map(
    rows(session, 'loop')
      .filter(l => holderOf(session, l))
      .flatMap(l => l.outPorts.map(p => [p, l.name] as const))
  )
  return Array.from({ length: Math.ceil(ports.length / 2) }, (_, i) => {
    const pair = ports.slice(2 * i, 2 * i + 2),
      ids = pair.map(p => p.id)
    const feeds = into.filter(f => sameList(f.ports, ids))
    const channel = feeds.map(f => session.channel[f.from]).find(c => c?.role === 'output')
    const dry = into.find(f => f.tap === 'input' && f.ports.some(p => ids.includes(p)))
    const loop = ids.map(p => held.get(p)).find(name => name !== undefined)
    return {
      ports: ids,
      name: pairName(pair.map(p => p.name)),
      channel,
      feeds: feeds.filter(f => f.from !== channel?.id),
      refused: loop
        ? `loop “${loop}” holds it`
        : dry
          ? `“${rowOf(session, 'channel', dry.from).name}” leaves there dry`
          : null
    }
  })
}

/**
 * A bus for these ports; what went there goes there through it, as loud as before.
 * @returns null where there is one already, or where the ports are not a place of the rig that can become one
 */
export function makeOutputChannel(
  session: Session,
  ports: readonly string[],
  ids: { channel: string; feed: () => string },
  order: string
): EditMessage | null {
  const rig = rigOfPort(session, ports[0] ?? '')
  const place = rig === undefined ? undefined : outputPlaces(session, rig).find(p => sameList(p.ports, ports))
  if (!place || place.channel || place.refused) return null
  const label = `“${place.name}” as a channel`
  const layout = place.ports.length === 1 ? LAYOUTS.mono : LAYOUTS.stereo
  const bus = { id: ids.channel, kind: 'bus', role: 'output', name: place.name, layout, order, colour: 8 }
  const through = place.feeds.map(({ kind: _, ports: __, to: ___, ...feed }) => ({
    table: 'feed',
    row: { ...feed, id: ids.feed(), kind: 'send', to: ids.channel, pan: feed.pan ?? 0 } as Record<string, unknown>
  }))
  const out = { table: 'feed', row: { id: ids.feed(), kind: 'port', from: ids.channel, ports: place.ports } }
  const edits = [
    ...(place.feeds.length ? [{ verb: 'removeFeeds', args: { ids: place.feeds.map(f => f.id) } }] : []),
    { verb: 'addRows', args: { label, rows: [{ table: 'channel', row: bus }, ...through, out] } }
  ]
  return { verb: 'several', args: { label, edits } }
}

/** What feeds an output goes to its ports by itself again; its slots and its level are gone with it. */
export function removeOutputChannel(session: Session, channel: string, newId: () => string): EditMessage {
  const { name } = rowOf(session, 'channel', channel)
  const label = `“${name}” as plain ports`
  const feeds = rows(session, 'feed').sort(byId)
  const out = feeds.find((f): f is PortFeed => f.kind === 'port' && f.from === channel)
  const coming = feeds.filter((f): f is SendFeed => f.kind === 'send' && f.to === channel)
  const back = coming.map(({ kind: _, to: __, ...feed }) => ({
    table: 'feed',
    row: { ...feed, id: newId(), kind: 'port', to: null, ports: out?.ports ?? [] } as Record<string, unknown>
  }))
  const edits = [
    { verb: 'removeChannels', args: { ids: [channel] } },
    ...(out && back.length ? [{ verb: 'addRows', args: { label, rows: back } }] : [])
  ]
  return { verb: 'several', args: { label, edits } }
}

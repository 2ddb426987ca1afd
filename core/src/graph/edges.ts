// Every way that signal can take in a session, as one table: from where to where, by which row, and what closes it.
// Channels are taken apart at their taps and slots, because a feed from an input does not pass the fader, and a key
// taken before a slot may well steer it. Walks over it serve fingerprints, circles, the path to the ears, influence and
// silence.
import { envelopesOf } from '../movement/targets'
import { LOOP, PROCESSORS } from '../processors/table'
import type { Cable, Channel, Envelope, Slot, TableName, Tap } from '../session/rows'
import { byId, rows, type Session } from '../session/session'
import { cableFrom, cableTo } from './cables'
import { cableClosed, dryClosed, faderClosed, feedClosed, inputClosed, wetClosed, type Closed } from './closed'
import { listening } from './listening'
import { Network, push } from './network'

/** `arriving` and the taps of a channel, `fader` behind its pre tap; `slot` into a processor, `behind` it. */
export type NodeKind = 'arriving' | Tap | 'fader' | 'clips' | 'slot' | 'behind' | 'port' | 'unit'
export interface Node {
  readonly kind: NodeKind
  readonly id: string
}
export const nodeName = (kind: NodeKind, id: string): string => `${kind}|${id}`
export const nodeOf = (name: string): Node => {
  const cut = name.indexOf('|')
  return { kind: name.slice(0, cut) as NodeKind, id: name.slice(cut + 1) }
}

export interface Edge {
  readonly from: string
  readonly to: string
  /** The row that makes it: its place along a channel is the channel's own. */
  readonly by: { readonly table: TableName; readonly id: string }
  readonly closed: Closed | null
}

export class Edges {
  readonly into = new Map<string, Edge[]>()
  readonly outOf = new Map<string, Edge[]>()
  readonly network: Network
  readonly envelopes: ReadonlyMap<string, Envelope>

  constructor(readonly session: Session) {
    this.network = new Network(session)
    this.envelopes = envelopesOf(session)
    for (const channel of rows(session, 'channel').sort(byId)) this.channel(channel)
    this.feeds()
    for (const cable of rows(session, 'cable').sort(byId)) this.cable(cable)
  }

  private add(from: string, to: string, table: TableName, id: string, closed: Closed | null): void {
    const edge: Edge = { from, to, by: { table, id }, closed }
    push(this.outOf, from, edge)
    push(this.into, to, edge)
  }

  private channel(channel: Channel): void {
    const { id } = channel,
      parked: Closed | null = channel.parked ? 'parked' : null
    let at = nodeName('arriving', id)
    const go = (to: string, closed: Closed | null) => {
      this.add(at, to, 'channel', id, parked ?? closed)
      at = to
    }
    const slots = this.network.slots.get(id) ?? []
    const pass = (afterFader: boolean) => {
      for (const slot of slots.filter(s => s.afterFader === afterFader)) {
        this.slot(slot, at, parked)
        at = nodeName('behind', slot.id)
      }
    }
    go(nodeName('input', id), inputClosed(channel))
    pass(false)
    go(nodeName('pre', id), null)
    go(nodeName('fader', id), faderClosed(channel))
    pass(true)
    go(nodeName('post', id), null)
    if (channel.kind === 'track') this.track(channel)
  }

  private track(channel: Channel): void {
    const inputs = (this.network.feedsTo.get(channel.id) ?? []).filter(
      f => f.kind === 'input' && !feedClosed(this.network, f)
    )
    const { clips, hearsPrint } = listening(this.network, channel, inputs)
    const arriving = nodeName('arriving', channel.id)
    this.add(nodeName('clips', channel.id), arriving, 'channel', channel.id, clips ? null : 'notListening')
    const printed = this.network.printOn.get(channel.id)
    if (printed && this.session.channel[printed.source])
      this.add(nodeName(printed.tap, printed.source), arriving, 'print', printed.id, hearsPrint ? null : 'notListening')
    for (const { id, source, tap } of this.network.printsAside.get(channel.id) ?? [])
      if (this.session.channel[source]) this.add(nodeName(tap, source), arriving, 'print', id, 'otherTake')
  }

  private slot(slot: Slot, at: string, parked: Closed | null): void {
    const behind = nodeName('behind', slot.id),
      inside = nodeName('slot', slot.id)
    const wet = parked ?? wetClosed(slot, this.envelopes)
    this.add(at, behind, 'slot', slot.id, parked ?? dryClosed(slot, this.envelopes))
    const loop = slot.processor === LOOP ? this.session.loop[slot.loop ?? ''] : undefined
    if (!loop) {
      this.add(at, inside, 'slot', slot.id, wet)
      this.add(inside, behind, 'slot', slot.id, wet)
      return
    }
    // A bypassed loop still sends: its ports may be listened to from elsewhere.
    const sends = parked ?? (slot.state === 'off' ? 'off' : loop.sendDb === null ? 'send' : null)
    for (const port of loop.outPorts) this.add(at, nodeName('port', port), 'loop', loop.id, sends)
    for (const port of loop.inPorts)
      this.add(nodeName('port', port), behind, 'loop', loop.id, wet ?? (loop.returnDb === null ? 'return' : null))
  }

  private feeds(): void {
    for (const feed of this.network.feeds) {
      const closed = feedClosed(this.network, feed)
      const from = feed.from === null ? '' : nodeName(feed.tap, feed.from)
      if (feed.kind === 'input') {
        const to = this.session.channel[feed.to]
        const heard = to?.kind !== 'track' || listening(this.network, to, closed ? [] : [feed]).hearsInputs
        for (const port of feed.ports)
          this.add(
            nodeName('port', port),
            nodeName('arriving', feed.to),
            'feed',
            feed.id,
            closed ?? (heard ? null : 'notListening')
          )
      } else if (feed.kind === 'key') {
        const slot = this.session.slot[feed.slot]
        if (slot)
          this.add(
            from,
            nodeName('slot', slot.id),
            'feed',
            feed.id,
            closed ?? (PROCESSORS[slot.processor]?.keyed ? null : 'notKeyed')
          )
      } else if (feed.kind === 'port')
        for (const port of feed.ports) this.add(from, nodeName('port', port), 'feed', feed.id, closed)
      else if (feed.to) this.add(from, nodeName('arriving', feed.to), 'feed', feed.id, closed)
    }
  }

  private cable(cable: Cable): void {
    this.add(cableFrom(cable), cableTo(cable), 'cable', cable.id, cableClosed(this.session, cable))
  }
}

export interface Walk {
  readonly nodes: ReadonlySet<string>
  readonly edges: ReadonlySet<Edge>
}

/**
 * Everything from which signal reaches a node by ways that are open, and these ways; the closed ones at its rim too.
 * @param leftOut ways that are as good as not there
 */
export function upstreamOf(
  edges: Edges,
  start: string,
  leftOut: (edge: Edge) => boolean = () => false
): Walk & { readonly rim: ReadonlySet<Edge> } {
  const nodes = new Set([start]),
    open = [start],
    passed = new Set<Edge>(),
    rim = new Set<Edge>()
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    for (const edge of edges.into.get(at) ?? []) {
      if (leftOut(edge)) continue
      if (edge.closed) {
        rim.add(edge)
        continue
      }
      passed.add(edge)
      if (!nodes.has(edge.from)) {
        nodes.add(edge.from)
        open.push(edge.from)
      }
    }
  }
  return { nodes, edges: passed, rim }
}

/**
 * Nodes that a node reaches, in the order of their distance, each with the way by which it was come to. Closed ways
 * count only where asked for.
 */
export function downstreamOf(
  edges: Edges,
  starts: readonly string[],
  passes: (edge: Edge) => boolean
): Map<string, Edge | null> {
  const cameBy = new Map<string, Edge | null>(starts.map(s => [s, null])),
    open = [...starts]
  for (let at = open.shift(); at !== undefined; at = open.shift()) {
    for (const edge of edges.outOf.get(at) ?? []) {
      if (cameBy.has(edge.to) || !passes(edge)) continue
      cameBy.set(edge.to, edge)
      open.push(edge.to)
    }
  }
  return cameBy
}

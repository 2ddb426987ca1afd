// The session as a graph, indexed once: who feeds whom, in the order in which a bus adds.
import type {
  AudioFeed,
  Channel,
  Clip,
  Feed,
  InputFeed,
  KeyFeed,
  Phrase,
  PortFeed,
  Slot,
  SourcedPrint
} from '../session/rows'
import { portsReached } from './cables'
import { byId, byOrder, hasSource, heardClips, isHeardPrint, rows, type Session } from '../session/session'

export class Network {
  /** In the order in which a bus adds. */
  readonly feeds: readonly Feed[]
  readonly feedsTo = new Map<string, (AudioFeed | InputFeed)[]>()
  readonly feedsFrom = new Map<string, Feed[]>()
  readonly keysTo = new Map<string, KeyFeed[]>()
  readonly feedsToPort = new Map<string, PortFeed[]>()
  readonly slots = new Map<string, Slot[]>()
  /** Those of takes that are not heard are not there, nor are their prints. */
  readonly clips = new Map<string, Clip[]>()
  readonly phrases = new Map<string, Phrase[]>()
  /** The one that a track holds, and by what they were made from. */
  readonly printOn = new Map<string, SourcedPrint>()
  readonly printsOf = new Map<string, SourcedPrint[]>()
  /** Of takes that are not heard, and beside the one that stands for its track, by the track that holds them. */
  readonly printsAside = new Map<string, SourcedPrint[]>()

  constructor(readonly session: Session) {
    this.feeds = rows(session, 'feed').sort(byId)
    for (const feed of this.feeds) {
      if (feed.from) push(this.feedsFrom, feed.from, feed)
      if (feed.kind === 'key') push(this.keysTo, feed.slot, feed)
      else if (feed.kind === 'port') feed.ports.forEach(p => push(this.feedsToPort, p, feed))
      else push(this.feedsTo, feed.to, feed)
    }
    for (const slot of rows(session, 'slot').sort(byOrder)) push(this.slots, slot.channel, slot)
    for (const clip of heardClips(session)) push(this.clips, clip.channel, clip)
    for (const phrase of rows(session, 'phrase')) push(this.phrases, phrase.channel, phrase)
    // What a print was made from may be gone, or it is a share of it: then it is a recording like any other.
    for (const print of rows(session, 'print').filter(hasSource).sort(byId)) {
      if (!isHeardPrint(session, print)) {
        push(this.printsAside, print.channel, print)
        continue
      }
      // One stands for the track, the same in whatever order rows came; the others may come to.
      if (this.printOn.has(print.channel)) push(this.printsAside, print.channel, print)
      else this.printOn.set(print.channel, print)
      push(this.printsOf, print.source, print)
    }
  }

  /** Undefined for an id that is not, or not yet, there. */
  channel(id: string): Channel | undefined {
    return this.session.channel[id]
  }

  /** Channels that audio from this one reaches directly: main feeds and sends, not keys. */
  next(id: string): AudioFeed[] {
    return (this.feedsFrom.get(id) ?? []).filter(f => f.kind === 'main' || f.kind === 'send')
  }

  /** Main feeds out of a channel, and into it. */
  mainsFrom(id: string): AudioFeed[] {
    return (this.feedsFrom.get(id) ?? []).filter(f => f.kind === 'main')
  }
  mainsTo(id: string): AudioFeed[] {
    return (this.feedsTo.get(id) ?? []).filter(f => f.kind === 'main')
  }

  /** Every channel that can be reached from these along `step`, these included. */
  reach(from: Iterable<string>, step: (id: string) => Iterable<string>): Set<string> {
    return reach(from, step)
  }

  /** Where audio goes after each channel, through the rig too. */
  downstream(id: string): string[] {
    const direct = this.next(id).map(f => f.to)
    const ports = (this.feedsFrom.get(id) ?? []).filter(f => f.kind === 'port').flatMap(f => f.ports)
    return ports.length ? [...direct, ...this.channelsBehind(ports)] : direct
  }

  upstream(id: string): string[] {
    return (this.feedsTo.get(id) ?? []).flatMap(f => (f.kind === 'input' ? this.channelsBefore(f.ports) : [f.from]))
  }

  /** Channels whose input feeds listen to ports that these ports out reach by cables. */
  channelsBehind(portsOut: string[]): string[] {
    const reached = portsReached(this.session, portsOut)
    return rows(this.session, 'feed')
      .filter(f => f.kind === 'input')
      .filter(f => f.ports.some(p => reached.has(p)))
      .map(f => f.to)
  }

  channelsBefore(portsIn: string[]): string[] {
    const out: string[] = []
    for (const [port, feeds] of this.feedsToPort) {
      const reached = portsReached(this.session, [port])
      if (portsIn.some(p => reached.has(p))) out.push(...feeds.map(f => f.from))
    }
    return out
  }
}

/** Everything that can be reached from these along `step`, these included. */
export function reach(from: Iterable<string>, step: (id: string) => Iterable<string>): Set<string> {
  const found = new Set(from),
    open = [...found]
  while (open.length)
    for (const id of step(open.pop()!))
      if (!found.has(id)) {
        found.add(id)
        open.push(id)
      }
  return found
}

export function push<K, V>(map: Map<K, V[]>, key: K, value: V): void {
  const list = map.get(key)
  if (list) list.push(value)
  else map.set(key, [value])
}

// What a channel does to everything else, measured by rendering a range twice: as it is, and as if the channel were not
// there. And how much of what is heard comes from it.
import { compile } from '../compile/compile'
import { tapKey, type CompileOptions } from '../compile/plan'
import { PlanStream, pairs, render, type RenderRange } from '../run/stream'
import type { MediaReader } from '../run/mediaReader'
import { downstreamOf, Edges, nodeName, nodeOf } from '../graph/edges'
import { PROCESSORS } from '../processors/table'
import { settings, type Session } from '../session/session'
import { LoudnessMeter } from './loudness'

/** Where signal can be measured on its way: behind a bus, at what steers a slot, at a port out. */
export interface MeasuringPoint {
  kind: 'bus' | 'key' | 'port'
  /** A channel, a slot or a port. */ id: string
}

/** Buses, key inputs and ports out that signal from a channel can reach, the nearest first. */
export function pointsReached(session: Session, channel: string): MeasuringPoint[] {
  const edges = new Edges(session)
  const found = downstreamOf(edges, [nodeName('arriving', channel)], () => true)
  const isSteered = (slot: string) => edges.into.get(slot)!.some(way => way.by.table === 'feed' && found.has(way.from))
  return [...found.keys()].flatMap((name): MeasuringPoint[] => {
    const { kind, id } = nodeOf(name)
    if (kind === 'arriving') return id === channel ? [] : [{ kind: 'bus', id }]
    if (kind === 'slot') return isSteered(name) ? [{ kind: 'key', id }] : []
    return kind === 'port' && session.port[id]?.direction === 'out' ? [{ kind: 'port', id }] : []
  })
}

export interface Influence extends MeasuringPoint {
  /** Gated loudness over the range in LUFS, with and without the channel; −∞ for silence. */
  withLufs: number
  withoutLufs: number
}

export interface Measuring {
  progress?: (share: number) => void
  stopped?: () => boolean
}

/** Gated loudness of every sink of a plan over a range, in LUFS by the sink's name. */
export async function loudnessOf(
  session: Session,
  media: MediaReader,
  range: RenderRange,
  options: CompileOptions,
  measuring: Measuring
): Promise<Map<string, number>> {
  const stream = new PlanStream(compile(session, options), session, media)
  const meters = new Map(
    [...stream.plan.sinks].map(([name, s]) => [name, new LoudnessMeter(s.layout, settings(session).sampleRate, false)])
  )
  await render(stream, range, (sink, audio) => meters.get(sink)!.feed(audio), measuring)
  return new Map([...meters].map(([name, m]) => [name, m.read().integratedLufs]))
}

const sinkName = (p: MeasuringPoint) =>
  p.kind === 'bus' ? tapKey({ channel: p.id, tap: 'post' }) : `${p.kind}/${p.id}`

/** What would change without the channel: loudness at every place it reaches, before and after. */
export async function influenceOf(
  session: Session,
  media: MediaReader,
  channel: string,
  range: RenderRange,
  measuring: Measuring = {}
): Promise<Influence[]> {
  const places = pointsReached(session, channel).filter(
    p => p.kind !== 'key' || PROCESSORS[session.slot[p.id]?.processor]?.keyed
  )
  const options: CompileOptions = {
    taps: places.filter(p => p.kind === 'bus').map(p => ({ channel: p.id, tap: 'post' })),
    keys: places.filter(p => p.kind === 'key').map(p => p.id),
    ports: places.filter(p => p.kind === 'port').map(p => p.id)
  }
  if (!places.length) return []
  const half = (from: number): Measuring => ({
    ...measuring,
    progress: share => measuring.progress?.(from + share / 2)
  })
  const before = await loudnessOf(session, media, range, options, half(0))
  const after = await loudnessOf(session, media, range, { ...options, without: new Set([channel]) }, half(0.5))
  return places.map(p => ({ ...p, withLufs: before.get(sinkName(p))!, withoutLufs: after.get(sinkName(p))! }))
}

export interface Contribution {
  /** What is heard, what of it comes from the channel, and what is left without it, in LUFS. */
  allLufs: number
  aloneLufs: number
  withoutLufs: number
  /** By how many LU what is heard falls without the channel: 0 for nothing, +∞ when nothing else sounds. */
  shareLu: number
}

/**
 * How much of what is heard comes from a channel, through every bus and return. Its own part is the difference between
 * what is heard with and without it, sample by sample.
 */
export async function contributionOf(
  session: Session,
  media: MediaReader,
  channel: string,
  heard: string,
  range: RenderRange,
  measuring: Measuring = {}
): Promise<Contribution> {
  const rate = settings(session).sampleRate
  const streamOf = (options: Partial<CompileOptions>) =>
    new PlanStream(compile(session, { taps: [{ channel: heard, tap: 'post' }], ...options }), session, media)
  const name = tapKey({ channel: heard, tap: 'post' })
  const meters = [0, 1, 2].map(() => new LoudnessMeter(session.channel[heard].layout, rate, false))
  for await (const [a, b] of pairs(streamOf({}), streamOf({ without: new Set([channel]) }), name, range, measuring)) {
    meters[0].feed(a)
    meters[1].feed(b)
    meters[2].feed(a.map((leg, i) => leg.map((x, n) => x - b[i][n])))
  }
  const [allLufs, withoutLufs, aloneLufs] = meters.map(m => m.read().integratedLufs)
  return { allLufs, withoutLufs, aloneLufs, shareLu: allLufs === -Infinity ? 0 : allLufs - withoutLufs }
}

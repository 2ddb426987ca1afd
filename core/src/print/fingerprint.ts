// The fingerprint of a tap: a hash over everything upstream that can change the sound. Two equal ones, the same
// samples. Kept in parts, one a row, so that a stale print can say what changed. Names, colours, solo and what is heard
// do not count, and nothing that is closed: it counts again when it opens.
import { canonical, shortHash } from '../foundation/hash'
import { faderClosed, inputClosed } from '../graph/closed'
import type { Network } from '../graph/network'
import { portDbu } from '../graph/portDbu'
import { downstreamOf, Edges, nodeName, nodeOf, upstreamOf, type Edge, type NodeKind } from '../graph/edges'
import { isAudible } from '../graph/takeOver'
import { movingFields } from '../movement/targets'
import { VOICES } from '../notes/voices'
import { PROCESSORS, settingsOf } from '../processors/table'
import { believedDelay, compensationAt } from '../rig/believedDelay'
import { CONVERTER_VERSION } from '../rig/fractional'
import { unitSettings } from '../rig/unit'
import { UNITS } from '../rig/units'
import type { Tap } from '../session/rows'
import { byId, rows, settings, type Session } from '../session/session'
import { tracksOf } from './stems'

export interface Fingerprint {
  hash: string
  parts: Record<string, string>
}

/** Raised when other things count than before: prints of then cannot be judged by their parts. */
const FORM = '3'

/** Counted only where it is so: what never turned anything keeps its print. */
const turned = (row: { inverts: boolean }) => (row.inverts ? ['turned'] : [])

const short = (value: unknown) => shortHash(canonical(value))

interface Reading {
  session: Session
  network: Network
  points: (...targets: string[]) => unknown[]
}

/** What of the rows at a node can change the sound, by the name of the part. */
const AT: Partial<Record<NodeKind, (reading: Reading, id: string) => Record<string, unknown>>> = {
  input: ({ session }, id) => {
    const c = session.channel[id]
    return {
      [`channel ${id}`]: inputClosed(c)
        ? ['closed', c.layout]
        : [c.layout, c.trimDb, c.flippedLegs, c.mutedLegs, c.lowCutHz, c.highCutHz]
    }
  },
  fader: ({ session, points }, id) => ({
    [`fader ${id}`]: faderClosed(session.channel[id])
      ? 'closed'
      : [session.channel[id].levelDb, points(`channel/${id}/levelDb`)]
  }),
  clips: ({ session, network }, id) =>
    Object.fromEntries([
      ...(network.clips.get(id) ?? [])
        .toSorted(byId)
        .map(c => [
          `clip ${c.id}`,
          [
            session.medium[c.medium].sha256 || c.medium,
            session.medium[c.medium].legs,
            c.startFrame,
            c.offsetFrames,
            c.frames,
            c.gainDb,
            c.fadeInFrames,
            c.fadeOutFrames,
            c.legMap
          ]
        ]),
      ...(network.phrases.get(id) ?? [])
        .toSorted(byId)
        .map(p => [
          `phrase ${p.id}`,
          [
            p.voice,
            VOICES[p.voice].version,
            p.levelDb,
            p.startBeat,
            p.lengthBeats,
            p.repeats,
            p.notes,
            settings(session).tempo
          ]
        ])
    ]),
  behind: ({ session, network, points }, id) => {
    const s = session.slot[id],
      processor = PROCESSORS[s.processor]
    const place = network.slots
      .get(s.channel)!
      .filter(o => o.afterFader === s.afterFader)
      .indexOf(s)
    return {
      [`slot ${id}`]:
        s.state === 'off'
          ? 'off'
          : [
              s.channel,
              s.afterFader,
              place,
              s.state,
              s.processor,
              processor?.version ?? 0,
              processor ? settingsOf(processor, s.params) : s.params,
              session.medium[s.params.response as string]?.sha256 ?? '',
              s.mix,
              s.keyLowCutHz,
              s.keyHighCutHz,
              (s.params.note ?? 'free') === 'free' ? 0 : settings(session).tempo[0],
              movingFields(s).map(field => points(`slot/${id}/${field}`))
            ]
    }
  },
  port: ({ session }, id) => {
    const port = session.port[id],
      device = session.interface[port.interface]
    return {
      [`port ${id}`]: [
        port.signal,
        portDbu(session, id),
        device.trueLatencySamples,
        device.trueLatencySamples % 1 ? CONVERTER_VERSION : 0,
        device.noiseDbfs,
        device.dcCornerHz,
        device.clock === 'free' ? device.driftPpm : 0,
        device.id,
        port.direction === 'in' ? compensationAt(session, id) : null,
        ...(port.trimDb ? [port.trimDb] : [])
      ]
    }
  },
  unit: ({ session }, id) => {
    const unit = session.unit[id],
      model = UNITS[unit.model]
    return {
      [`unit ${id}`]: [
        unit.model,
        model?.version ?? 0,
        unit.powered,
        model ? unitSettings(model, unit.settings) : unit.settings,
        ...turned(unit),
        ...(unit.plays ? [session.medium[unit.plays]?.sha256 ?? ''] : [])
      ]
    }
  }
}

/** What of the row that a way is made by can change the sound. */
const BY: Record<string, (reading: Reading, id: string) => unknown> = {
  feed: ({ session, points }, id) => {
    const f = session.feed[id]
    return [
      f.kind,
      f.from,
      f.to,
      f.slot,
      f.tap,
      f.levelDb,
      f.pan ?? (f.from ? session.channel[f.from].pan : 0),
      f.ports,
      points(`feed/${id}/levelDb`, `feed/${id}/pan`),
      f.pan === null && f.from ? points(`channel/${f.from}/pan`) : []
    ]
  },
  loop: ({ session }, id) => {
    const l = session.loop[id]
    return [l.outPorts, l.inPorts, l.sendDb, l.returnDb, l.inverted, l.compensated && believedDelay(session, l)]
  },
  cable: ({ session }, id) => {
    const { fromPort, fromUnit, fromJack, toPort, toUnit, toJack, inside, levelDb } = session.cable[id]
    const route = inside ? ['inside', levelDb] : []
    return [fromPort, fromUnit, fromJack, toPort, toUnit, toJack, ...turned(session.cable[id]), ...route]
  },
  print: ({ session }, id) => [session.print[id].source, session.print[id].tap]
}

/** Ways that a share leaves out, and those along which nothing of it comes. */
function besideShare(edges: Edges, only: ReadonlySet<string>): (edge: Edge) => boolean {
  const { session } = edges
  const isShut = ({ by }: Edge) => {
    const feed = by.table === 'feed' ? session.feed[by.id] : undefined
    return !!feed?.from && isAudible(feed) && session.channel[feed.from].kind === 'track' && !only.has(feed.from)
  }
  const starts = [
    ...rows(session, 'channel').flatMap(c =>
      c.kind === 'track' ? [nodeName('clips', c.id), nodeName('arriving', c.id)] : []
    ),
    ...rows(session, 'port').map(p => nodeName('port', p.id))
  ]
  // A key shapes what passes a slot; where nothing passes, nothing comes of it.
  const isKey = ({ by }: Edge) => by.table === 'feed' && session.feed[by.id]?.kind === 'key'
  const sounding = downstreamOf(edges, starts, edge => !edge.closed && !isShut(edge) && !isKey(edge))
  return edge => isShut(edge) || !sounding.has(edge.from)
}

/**
 * @param extra what a render itself is given: seed, first frame and length in frames
 * @param share the channel whose tracks alone are let through; null: everything
 */
export function fingerprint(
  session: Session,
  source: string,
  tap: Tap,
  extra: { seed: number; from: number; frames: number },
  share: string | null = null
): Fingerprint {
  const edges = edgesOf(session)
  const points: Reading['points'] = (...targets) => targets.flatMap(t => edges.envelopes.get(t)?.points ?? [])
  const reading: Reading = { session, network: edges.network, points }
  const parts: Record<string, string> = { form: FORM, session: short([settings(session).sampleRate, extra]) }
  const only = share === null ? null : tracksOf(edges.network, share)
  if (only) parts[`share ${share}`] = short([...only].sort())
  const {
    nodes,
    edges: passed,
    rim
  } = upstreamOf(edges, nodeName(tap, source), only ? besideShare(edges, only) : undefined)
  for (const name of nodes) {
    const { kind, id } = nodeOf(name)
    for (const [part, value] of Object.entries(AT[kind]?.(reading, id) ?? {})) parts[part] = short(value)
  }
  // What nothing passes through to is silence, of so many legs.
  parts[`channel ${source}`] ??= short(['closed', session.channel[source].layout])
  for (const { by } of passed) if (BY[by.table]) parts[`${by.table} ${by.id}`] = short(BY[by.table](reading, by.id))
  // A take that is not heard is as good as not there.
  for (const { by, closed } of rim)
    if (BY[by.table] && closed !== 'otherTake')
      parts[`${by.table} ${by.id}`] ??= short(['closed', closed === 'notKeyed' ? closed : ''])
  return { hash: short(Object.entries(parts).sort(([a], [b]) => (a < b ? -1 : 1))), parts }
}

/** The table of a session's ways, made once: its prints are asked for one after the other. */
const known = new WeakMap<Session, Edges>()
export function edgesOf(session: Session): Edges {
  const edges = known.get(session) ?? new Edges(session)
  known.set(session, edges)
  return edges
}

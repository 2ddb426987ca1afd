// Re-amping in one step: a recorded DI out of its input tap into units and back onto a track of its own, with nothing
// of the mix in the amplifier and nothing heard twice.
import { sameList } from '../foundation/lists'
import { unitsAlong } from '../graph/cables'
import { deadPoint, type DeadPoint } from '../graph/deadLoop'
import { holderOf } from '../graph/holder'
import { portDbu } from '../graph/portDbu'
import { isElsewhere } from '../graph/room'
import { meets, portsBehind } from '../graph/sides'
import { unitSettings } from '../rig/unit'
import { UNITS } from '../rig/units'
import type { EditMessage } from '../session/editMessage'
import { LAYOUTS } from '../session/layouts'
import type { Params } from '../session/rows'
import { byOrder, rowOf, rows, settings, type Session } from '../session/session'
import { portsOfRig } from './outputs'

/** A way out of a port and back: what one can re-amp through. */
export interface ReampWay {
  out: string
  /** One port in, or a pair. */
  ins: string[]
  /** “Tube amplifier”, “Tape deck → Spring reverb”. */
  through: string
  /** Why it cannot be used now; undefined where it can. */
  refused?: string
  /** What is wrong on the way and how it is mended, where it is. */
  dead: DeadPoint | null
}

/** A way out of one port, or a pair, and back; `lacks`: why nothing would come back by it. */
export interface WayOut {
  outs: string[]
  ins: string[]
  through: string
  lacks: string | null
}

/** Ways of a rig through units, each port by itself and pairs through the same units, whoever uses them now. */
export function waysOut(session: Session, rig: string): WayOut[] {
  const single = reampWays(session, rig, '').map(({ out, ins, through }): WayOut => {
    const lacks = lacking(session, out, ins, through)
    return { outs: [out], ins, through, lacks: lacks ?? null }
  })
  const pairs = single.flatMap((a, i) => {
    const same = single.slice(i + 1).filter(b => b.through === a.through && !b.lacks)
    const [b] = same,
      ins = b ? [...new Set([...a.ins, ...b.ins])] : []
    return b && same.length === 1 && !a.lacks && ins.length === 2
      ? [{ outs: [...a.outs, ...b.outs], ins, through: a.through, lacks: null }]
      : []
  })
  return [...single, ...pairs]
}

/** Ways of a rig, in the order of its ports out; none where no cable leads from one to a unit. */
export function reampWays(session: Session, rig: string, track: string): ReampWay[] {
  return portsOfRig(session, rig, 'out').flatMap((port): ReampWay[] => {
    const units = unitsAlong(session, [port.id])
    if (!units.length) return []
    const behind = portsBehind(session, [port.id])
    const ins = rows(session, 'port')
      .filter(p => behind.has(p.id))
      .sort(byOrder)
      .map(p => p.id)
    const through = units.map(u => u.name).join(' → ')
    const way = { out: port.id, ins, through, dead: deadWay(session, port.id, ins) }
    return [{ ...way, refused: refusal(session, port.id, ins, through, track) }]
  })
}

const deadWay = (session: Session, out: string, inPorts: string[]) =>
  inPorts.length ? deadPoint(session, { name: '', outPorts: [out], inPorts }) : null

function lacking(session: Session, out: string, ins: string[], through: string): string | undefined {
  if (isElsewhere(session, [out]))
    return `this session works in “${rowOf(session, 'rig', settings(session).rig ?? '').name}”`
  if (!ins.length) return `no cable leads from ${through} back to a port`
  if (ins.length > 2) return `it comes back at ${ins.length} ports`
  return undefined
}

function refusal(session: Session, out: string, ins: string[], through: string, track: string): string | undefined {
  const lacks = lacking(session, out, ins, through)
  if (lacks) return lacks
  for (const loop of rows(session, 'loop')) {
    const holder = holderOf(session, loop)
    if (holder && [...loop.outPorts, ...loop.inPorts].some(p => p === out || ins.includes(p)))
      return `loop “${loop.name}” on “${rowOf(session, 'channel', holder.channel).name}” has its ports: use another pass`
  }
  const inside = rows(session, 'port').filter(p => meets(session, p.id, out))
  for (const feed of rows(session, 'feed'))
    if (feed.kind === 'port' && feed.ports.some(p => inside.some(i => i.id === p)))
      return feed.from === track
        ? 'it is re-amped there already'
        : `“${rowOf(session, 'channel', feed.from).name}” goes to ${feed.ports.map(p => session.port[p]?.name).join(', ')}: it would be in the unit too`
  return undefined
}

export interface ReampWish {
  track: string
  way: ReampWay
  /** Of the track that what comes back is recorded on. */
  name: string
  /** The DI itself is silenced, so that it is not heard beside its amplifier. */
  muteDi: boolean
  /** What 0 dBFS of the DI was where it was recorded, in dBu; null where nobody knows. */
  sourceDbu: number | null
  newId(): string
  order: string
  /** A track that the new one is compared with. */
  reference?: string | null
}

/** Level of a feed at which a recording leaves a port at the voltage that it came with; 0 where that is not known. */
export const voltageDb = (session: Session, port: string, sourceDbu: number | null): number =>
  sourceDbu === null ? 0 : sourceDbu - portDbu(session, port)

/**
 * One step: a mono feed from the DI's input tap (no slot, fader or mute of its channel counts), a loop that is waiting
 * so that its ping is compensated, and a track that listens to the return and goes where the DI goes.
 */
export function reampEdit(
  session: Session,
  { track, way, name, muteDi, sourceDbu, newId, order, reference = null }: ReampWish
): EditMessage {
  const di = rowOf(session, 'channel', track)
  const rig = rowOf(session, 'interface', rowOf(session, 'port', way.out).interface).rig
  const mains = rows(session, 'feed').flatMap(f => (f.kind === 'main' && f.from === track ? [f.to] : []))
  const known = rows(session, 'loop').some(l => sameList(l.outPorts, [way.out]) && sameList(l.inPorts, way.ins))
  const print = newId()
  const edits: EditMessage[] = [
    ...(way.dead?.fixes.slice(0, 1).map(f => remembering(session, f.edit)) ?? []),
    ...(known
      ? []
      : [
          {
            verb: 'setLoop',
            args: { id: newId(), rig, fields: { name, order, outPorts: [way.out], inPorts: way.ins } }
          }
        ]),
    {
      verb: 'addPortFeed',
      args: {
        feedId: newId(),
        channel: track,
        ports: [way.out],
        direction: 'out',
        tap: 'input',
        levelDb: voltageDb(session, way.out, sourceDbu)
      }
    },
    ...(di.sourceDbu === sourceDbu ? [] : [{ verb: 'setChannels', args: { ids: [track], fields: { sourceDbu } } }]),
    {
      verb: 'createChannels',
      args: {
        channels: [{ id: print, name, order, feedId: newId() }],
        role: 'track',
        layout: way.ins.length === 2 ? LAYOUTS.stereo : LAYOUTS.mono,
        colour: di.colour,
        family: di.family,
        to: mains[0] ?? null
      }
    },
    ...mains.slice(1).map(to => ({ verb: 'addMainFeed', args: { ids: [print], to, feedIds: [newId()] } })),
    { verb: 'addPortFeed', args: { feedId: newId(), channel: print, ports: way.ins, direction: 'in' } },
    { verb: 'setChannels', args: { ids: [print], fields: { listen: 'feed', reference } } },
    ...(muteDi ? [{ verb: 'setChannels', args: { ids: [track], fields: { muted: true } } }] : [])
  ]
  return { verb: 'several', args: { label: `Re-amp “${di.name}” through ${way.through}`, edits } }
}

/** A switch that is turned for this is asked back later: as it stood before the first time. */
function remembering(session: Session, edit: EditMessage): EditMessage {
  const { id, fields } = edit.args as { id: string; fields?: { settings?: Params } }
  const unit = session.unit[id],
    model = UNITS[unit?.model ?? '']
  if (edit.verb !== 'setUnit' || !unit || !model || !fields?.settings) return edit
  const now = unitSettings(model, unit.settings)
  const before = Object.fromEntries(Object.keys(fields.settings).map(name => [name, now[name]]))
  return { verb: 'setUnit', args: { id, fields: { ...fields, putBack: { ...before, ...unit.putBack } } } }
}

/** What the ways lack, where there is not one that can be used, in a sentence; null where one can. */
export function whatIsMissing(session: Session, rig: string, ways: readonly ReampWay[]): string | null {
  if (ways.some(w => !w.refused)) return null
  const name = session.rig[rig]?.name ?? 'This rig'
  if (ways.length) return `Every way out of ${name} is taken or ends: free one, draw another, or work in another rig.`
  const free = portsOfRig(session, rig, 'out').filter(p => !rows(session, 'cable').some(c => c.fromPort === p.id))
  return free.length
    ? `${name} has ${free.length} free outs, and none leads into a unit: draw a cable from an out to an amplifier, and one back to an in.`
    : `${name} has no free out: pull a cable, or work in another rig.`
}

// Prints that go out to units and back for themselves: one unit serves many sources, one pass after the other, and one
// source may be tried through many settings. For the engine, fingerprints and proofs such a pass is a session of its
// own: the same, but for a feed out, a return, what has to keep out of the way, and how units are set meanwhile.
import { sameList } from '../foundation/lists'
import type { TapName } from '../compile/plan'
import { unitsAlong } from '../graph/cables'
import { holderOf } from '../graph/holder'
import { rigOfPort } from '../graph/room'
import { meets } from '../graph/sides'
import { LAYOUTS } from '../session/layouts'
import { derivedId } from '../session/ids'
import { ChannelRow, FeedRow, LoopRow, type Cable, type Loop, type Tap, type Through } from '../session/rows'
import { rows, type Session } from '../session/session'
import { UNITS } from '../rig/units'

/** What is sent along a way of its own: a print, or one that is going to be. */
export interface Sent {
  print: string
  source: string
  through: Through
}

/** Where what comes back is taken. */
export const returnTap = (print: string): TapName => ({ channel: derivedId(print, 'return'), tap: 'post' })

/** Where the sound of a print is taken: at its source, or where it comes back. */
export const tapOf = ({
  print,
  source,
  tap,
  through
}: Omit<Sent, 'through'> & { tap: Tap; through: Through | null }) =>
  through ? returnTap(print) : { channel: source, tap }

/** The session that a print sounds in: its own, where it goes out by itself. */
export const stageOf = (
  session: Session,
  { print, source, through }: Omit<Sent, 'through'> & { through: Through | null }
) => (through ? staged(session, [{ print, source, through }]) : session)

/** Cables as they are while another unit stands in a unit’s place. */
export function cablesInstead(session: Session, instead: Record<string, string>): Record<string, Cable> {
  const swaps = Object.entries(instead).filter(([unit, other]) => session.unit[unit] && session.unit[other])
  if (!swaps.length) return session.cable
  const placed = new Map(swaps),
    incoming = new Set(swaps.map(([, other]) => other))
  const jacks = (unit: string, side: 'inputs' | 'outputs') =>
    UNITS[session.unit[unit]?.model ?? '']?.[side].length ?? Infinity
  const out: Record<string, Cable> = {}
  for (const cable of rows(session, 'cable')) {
    // What the other unit was wired to is out while it stands elsewhere.
    const ends = [cable.fromUnit, cable.toUnit]
    if (ends.some(u => u !== null && incoming.has(u) && !placed.has(u))) continue
    const fromUnit = placed.get(cable.fromUnit ?? '') ?? cable.fromUnit,
      toUnit = placed.get(cable.toUnit ?? '') ?? cable.toUnit
    if (fromUnit !== null && cable.fromJack >= jacks(fromUnit, 'outputs')) continue
    if (toUnit !== null && cable.toJack >= jacks(toUnit, 'inputs')) continue
    out[cable.id] = { ...cable, fromUnit, toUnit } as Cable
  }
  return out
}

/** Units as they are set for these. */
function unitsFor(session: Session, sent: readonly Sent[]): Session['unit'] {
  const unit = { ...session.unit }
  for (const { through } of sent)
    for (const [id, settings] of Object.entries(through.settings))
      if (unit[id]) unit[id] = { ...unit[id], settings: { ...unit[id].settings, ...settings } }
  return unit
}

/**
 * The session of a pass. Ports and units that are gone are left out; a fingerprint tells.
 * @param sent what goes out in it, each along its own way: no port and no side of a unit twice
 */
export function staged(session: Session, sent: readonly Sent[]): Session {
  const instead = Object.assign({}, ...sent.map(s => s.through.instead)) as Record<string, string>
  const stage: Session = {
    ...session,
    unit: unitsFor(session, sent),
    cable: cablesInstead(session, instead),
    channel: { ...session.channel },
    feed: { ...session.feed },
    slot: { ...session.slot },
    loop: { ...session.loop },
    print: { ...session.print }
  }
  const outs = new Set(sent.flatMap(s => s.through.outPorts)),
    ins = new Set(sent.flatMap(s => s.through.inPorts))
  const isInTheWay = (port: string) => ins.has(port) || [...outs].some(out => meets(stage, port, out))
  for (const feed of rows(session, 'feed'))
    if (feed.kind === 'port' && feed.ports.some(isInTheWay)) delete stage.feed[feed.id]
  for (const loop of rows(session, 'loop')) {
    const slot = holderOf(session, loop)
    if (slot && [...loop.outPorts, ...loop.inPorts].some(isInTheWay)) stage.slot[slot.id] = { ...slot, state: 'off' }
  }
  const sources = new Set(sent.map(s => s.source))
  for (const print of rows(session, 'print'))
    if (print.takesOver && print.source && sources.has(print.source))
      stage.print[print.id] = { ...print, takesOver: false }
  for (const one of sent) addWay(stage, one)
  return stage
}

/** The units on a way, as “Tape deck → Spring”. */
export const wayName = (stage: Session, { outPorts }: Through): string =>
  unitsAlong(stage, outPorts)
    .map(u => u.name)
    .join(' → ') || 'the way out and back'

function addWay(stage: Session, { print, source, through }: Sent): void {
  const { channel } = returnTap(print)
  const there = (ports: readonly string[]) => ports.filter(p => stage.port[p])
  const outPorts = there(through.outPorts),
    inPorts = there(through.inPorts)
  const layout = through.inPorts.length === 2 ? LAYOUTS.stereo : LAYOUTS.mono
  stage.channel[channel] = ChannelRow.parse({
    id: channel,
    name: 'what comes back',
    kind: 'bus',
    role: 'submix',
    layout
  })
  // What comes back is as late as the loop that was pinged says, or the driver.
  const isIt = (loop: Loop) => sameList(loop.outPorts, outPorts) && sameList(loop.inPorts, inPorts)
  const known = rows(stage, 'loop').some(isIt)
  for (const loop of rows(stage, 'loop'))
    if (!isIt(loop) && loop.inPorts.some(p => inPorts.includes(p))) stage.loop[loop.id] = { ...loop, inPorts: [] }
  const rig = rigOfPort(stage, outPorts[0] ?? '')
  if (!known && rig && inPorts.length) {
    const id = derivedId(print, 'loop')
    stage.loop[id] = LoopRow.parse({ id, rig, name: wayName(stage, through), outPorts, inPorts })
  }
  const feed = (name: string, fields: object) => {
    const id = derivedId(print, name)
    stage.feed[id] = FeedRow.parse({ id, ...fields })
  }
  if (outPorts.length && stage.channel[source])
    feed('out', { kind: 'port', from: source, tap: through.tap, ports: outPorts, levelDb: through.levelDb })
  if (inPorts.length) feed('back', { kind: 'input', to: channel, ports: inPorts })
}

/** Ports of the rig that is not worked in carry nothing: such a way leads nowhere now. */
export const isElsewhereNow = (session: Session, { outPorts }: Through): boolean =>
  outPorts.some(p => rigOfPort(session, p) !== session.session.session?.rig)

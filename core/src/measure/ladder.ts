// The level ladder of a loop: how loud it is at every point between a bus and its return, and how much room is left.
import { compile } from '../compile/compile'
import { decibels } from '../foundation/elementary'
import { alongCables, patchedCables, unitNode } from '../graph/cables'
import { useOf, type LoopUse } from '../graph/holder'
import { portDbu } from '../graph/portDbu'
import type { Measuring } from './influence'
import { UNITS } from '../rig/units'
import type { MediaReader } from '../run/mediaReader'
import { watchMeters } from '../run/meters'
import { levelsBegin } from '../run/runIn'
import { PlanStream, type RenderRange } from '../run/stream'
import type { EditMessage } from '../session/editMessage'
import type { Loop } from '../session/rows'
import { rowOf, rows, settings, type Session } from '../session/session'

/** RMS of a sine whose peak is 1, in dB of full scale: an analog RMS level is told as that of a sine. */
const SINE_DB = 3.0103

export interface Rung {
  /** Stays the same from one measurement to the next. */
  key: string
  /** “Line out 5”, “Tube amplifier, Instrument in”. */
  name: string
  place: 'out' | 'unit in' | 'unit out' | 'in' | 'return'
  /** The port or unit that it belongs to; the loop for its return. */
  about: string
  /** Inside the computer; null between jacks. */
  dbfs: Level | null
  /** At a cable; null behind the return's gain. */
  dbu: Level | null
  /** Of the peak, until it clips, in dB; +∞ where nothing does. */
  headroomDb: number
}
export interface Level {
  peak: number
  rms: number
}

/**
 * @param range frames of source time; what rings in from before it is not left out
 * @returns from the ports out to the return, in the order in which sound passes
 */
export async function ladder(
  session: Session,
  media: MediaReader,
  loop: Loop,
  range: RenderRange,
  { progress }: Pick<Measuring, 'progress'> = {}
): Promise<Rung[]> {
  const use = useOf(session, loop)
  const listeners = use.slot ? [use.slot.channel] : [...new Set(use.returns.map(f => f.to))]
  const taps = listeners.map(channel => ({ channel, tap: 'post' as const }))
  const stream = new PlanStream(compile(session, { taps, ports: loop.outPorts }), session, media)
  stream.start(levelsBegin(range.from, settings(session).sampleRate))
  const metered = await watchMeters(stream, range.from, range.from + range.frames, progress)
  const found = new Map(metered.map(m => [`${m.key}/${m.leg}`, m]))
  return rungs(session, loop, use, key => {
    const { peak, power } = found.get(key) ?? { peak: 0, power: 0 }
    return { peak: decibels(peak), rms: decibels(Math.sqrt(power)) }
  })
}

const plus = ({ peak, rms }: Level, db: number): Level => ({ peak: peak + db, rms: rms + db })
/** An analog level: the RMS as that of a sine. */
const analog = ({ peak, rms }: Level, db = 0): Level => ({ peak: peak + db, rms: rms + SINE_DB + db })

function rungs(session: Session, loop: Loop, { slot, returns }: LoopUse, levelAt: (key: string) => Level): Rung[] {
  const list: Rung[] = []
  const port = (id: string, place: 'out' | 'in') => {
    const row = session.port[id]
    const reference = portDbu(session, id)
    const level = levelAt(`port/${id}/0`)
    list.push({
      key: `port/${id}`,
      name: row.name,
      place,
      about: id,
      dbfs: level,
      dbu: analog(level, reference),
      headroomDb: -level.peak
    })
  }
  loop.outPorts.forEach(id => port(id, 'out'))
  const cables = patchedCables(session)
  const units = new Map(rows(session, 'unit').map(u => [unitNode(u.id), u]))
  for (const node of alongCables(session, loop.outPorts).keys()) {
    const unit = units.get(node)
    const model = unit && UNITS[unit.model]
    if (!unit || !model) continue
    model.inputs.forEach((jack, i) => {
      const isFed = cables.some(
        c => c.toUnit === unit.id && c.toJack === i && (c.fromPort === null || loop.outPorts.includes(c.fromPort))
      )
      if (!isFed) return
      const dbu = analog(levelAt(`unit/${unit.id}/${i}`))
      list.push({
        key: `unit/${unit.id}/${i}`,
        name: `${unit.name}, ${jack}`,
        place: 'unit in',
        about: unit.id,
        dbfs: null,
        dbu,
        headroomDb: model.clipDbu - dbu.peak
      })
    })
    model.outputs.forEach((jack, i) => {
      if (!cables.some(c => c.fromUnit === unit.id && c.fromJack === i)) return
      list.push({
        key: `jack/${unit.id}/${i}`,
        name: `${unit.name}, ${jack}`,
        place: 'unit out',
        about: unit.id,
        dbfs: null,
        dbu: analog(levelAt(`jack/${unit.id}/${i}/0`)),
        headroomDb: Infinity
      })
    })
  }
  loop.inPorts.forEach(id => port(id, 'in'))
  loop.inPorts.forEach(id => {
    const listening = returns.find(f => f.ports.includes(id))
    const gainDb = slot || !listening ? loop.returnDb : listening.levelDb
    const dbfs = plus(levelAt(`port/${id}/0`), gainDb ?? -Infinity)
    list.push({
      key: `return/${id}`,
      name: loop.inPorts.length > 1 ? `Return from ${session.port[id].name}` : 'Return',
      place: 'return',
      about: loop.id,
      dbfs,
      dbu: null,
      headroomDb: Infinity
    })
  })
  return list
}

/** The first point on the way at which something clips; undefined where nothing does. */
export const firstClip = (ladder: readonly Rung[]): Rung | undefined => ladder.find(r => r.headroomDb < 0)

export interface Target {
  /** Of a rung. */
  key: string
  by: keyof Level
  /** In dBu at a jack, in dBFS at a port in or a return. */
  level: number
}
export interface Trim {
  /** What brings it there; null where nothing has to move. */
  edit: EditMessage | null
  /** By how much the send (at a return: the return) moves. */
  byDb: number
  /** What is there then, in the target's own unit. */
  reached: number
  /** Why it is not the target, where it is not. */
  note: string
  ladder: Rung[]
}

const MOST_DB = 40,
  CLOSE_DB = 0.05,
  ROUNDS = 6

const levelOf = (rung: Rung, by: keyof Level): number =>
  (rung.place === 'unit in' || rung.place === 'unit out' ? rung.dbu : rung.dbfs)?.[by] ?? -Infinity

interface Moved {
  session: Session
  edit: EditMessage
}

/** What a trim moves: the loop's level where a slot holds it, else those of the feeds into its ports or from them. */
function moved(session: Session, loop: Loop, side: 'send' | 'return', byDb: number): Moved {
  const { slot, sends, returns } = useOf(session, loop)
  const feeds = (slot ? [] : side === 'send' ? sends : returns).map(f => ({ ...f, levelDb: (f.levelDb ?? 0) + byDb }))
  if (feeds.length)
    return {
      session: { ...session, feed: { ...session.feed, ...Object.fromEntries(feeds.map(f => [f.id, f])) } },
      edit: {
        verb: 'several',
        args: {
          label: `Trim of “${loop.name}”`,
          edits: feeds.map(f => ({ verb: 'setFeeds', args: { ids: [f.id], fields: { levelDb: f.levelDb } } }))
        }
      }
    }
  const field = side === 'send' ? 'sendDb' : 'returnDb'
  const fields = { [field]: (loop[field] ?? 0) + byDb }
  return {
    session: { ...session, loop: { ...session.loop, [loop.id]: { ...loop, ...fields } } },
    edit: { verb: 'setLoop', args: { id: loop.id, fields } }
  }
}

/**
 * What brings a point to its target: the send, or at a return the return. Units bend: what is measured behind one is
 * measured again until it is close.
 * @throws Error where there is no such point
 */
export async function trimTo(
  session: Session,
  media: MediaReader,
  loop: Loop,
  range: RenderRange,
  target: Target,
  { progress }: Pick<Measuring, 'progress'> = {}
): Promise<Trim> {
  const side = target.key.startsWith('return/') ? 'return' : 'send'
  const at = async (byDb: number, round: number) => {
    const then = moved(session, loop, side, byDb).session
    const rungs = await ladder(then, media, rowOf(then, 'loop', loop.id), range, {
      progress: share => progress?.((round + share) / ROUNDS)
    })
    const rung = rungs.find(r => r.key === target.key)
    if (!rung) throw new Error(`There is no point “${target.key}” on the way of “${loop.name}”`)
    return { byDb, rungs, level: levelOf(rung, target.by) }
  }
  let here = await at(0, 0)
  let slope = 1
  for (let round = 1; round < ROUNDS && Math.abs(here.level - target.level) > CLOSE_DB; round++) {
    if (!Number.isFinite(here.level)) break
    const wanted = here.byDb + (target.level - here.level) / slope
    const next = await at(Math.round(Math.max(-MOST_DB, Math.min(MOST_DB, wanted)) * 100) / 100, round)
    // A secant: behind what bends, a dB in is less than a dB out.
    if (next.byDb === here.byDb) break
    slope = Math.max(0.1, (next.level - here.level) / (next.byDb - here.byDb))
    here = next
  }
  progress?.(1)
  return {
    edit: here.byDb === 0 ? null : moved(session, loop, side, here.byDb).edit,
    byDb: here.byDb,
    reached: here.level,
    ladder: here.rungs,
    note: noteOn(here.level, target, here.byDb)
  }
}

function noteOn(level: number, target: Target, byDb: number): string {
  if (level === -Infinity) return 'nothing arrives there in this range'
  if (Math.abs(level - target.level) <= 0.2) return ''
  return Math.abs(byDb) >= MOST_DB
    ? `its level would have to move by more than ${MOST_DB} dB`
    : 'what is before it holds it back'
}

// A part of a pass: what is rendered together, from one plan, streamed into media, then verified from what was stored.
import { tapKey, type TapName } from '@nullet/core/compile/plan'
import { render } from '@nullet/core/run/stream'
import { Network } from '@nullet/core/graph/network'
import { throughText } from '@nullet/core/print/passJobs'
import type { PassJob } from '@nullet/core/print/passPlan'
import { Converters } from '@nullet/core/print/converters'
import { breakFaults, gathered } from '@nullet/core/print/faults'
import { portsIn, sidesIn } from '@nullet/core/print/lost'
import { BLOCK } from '@nullet/core/plan/operations'
import type { MadePrint, PrintArgs, PrintItem } from '@nullet/core/print/printRows'
import { tracksOf } from '@nullet/core/print/stems'
import { alreadyPrinted } from '@nullet/core/print/reuse'
import { fingerprintOf, soundingSource } from '@nullet/core/print/stale'
import { staged, tapOf } from '@nullet/core/print/through'
import { verdict, verify } from '@nullet/core/print/verify'
import { Breaks } from '@nullet/core/measure/breaks'
import { deadPoint } from '@nullet/core/graph/deadLoop'
import { useOf } from '@nullet/core/graph/holder'
import { rowOf, rows, settings, type Session } from '@nullet/core/session/session'
import { startRender } from '../../host/threads'
import { Levels } from '../../host/levels'
import { mediumInfo, MediumWriter, readAudio, type MediumInfo } from '../store/media'
import { DatabaseMedia } from '../store/mediaReader'
import type { Running } from './job'
import { RoomWatch, type Changes } from './roomWatch'

interface Output {
  item: PrintItem
  tap: TapName
  writer: MediumWriter
  levels: Levels
  layout: string[]
  latency: number
  /** Of what comes through units; null inside the computer. */
  breaks: Breaks | null
  /** Frame of source time that is written next. */
  at: number
}

/** What is rendered together: everything, the share of one channel's tracks, or what goes out along ways of its own. */
export interface Part {
  share: string | null
  out: boolean
  items: PrintItem[]
}

export interface Range {
  from: number
  frames: number
}

/** What each part of the pass is given. */
export interface Pass {
  running: Running
  session: Session
  media: DatabaseMedia
  range: Range
  /** Said of every print of it. */
  note: string | null
  seed: number
  roll: PrintArgs['roll']
  /** What its prints need of the room, by their items. */
  needs: ReadonlyMap<PrintItem, PassJob>
  changes: Changes
  /** Of all parts, so that none is left behind. */
  writers: MediumWriter[]
}

const RENDERED = 0.55
/** After so much was written it is looked whether the disk has room still. */
const ROOM_BYTES = 32 * 2 ** 20

export interface Printed {
  item: PrintItem
  /** Null where it lay there already. */
  writer: MediumWriter | null
  info: MediumInfo
  made: MadePrint
}

/** What is printed already, by its item. Where its audio is not there, it is rendered like anything else. */
async function copied({ running: { sql }, session, range }: Pass, item: PrintItem): Promise<Printed | null> {
  const found = alreadyPrinted(session, item, range)
  if (!found) return null
  const { print, clip, sink } = found,
    medium = rowOf(session, 'medium', clip.medium)
  const info = await mediumInfo(sql, medium.sha256, medium.legs).catch(() => null)
  if (!info || medium.legs !== sink.layout.length) return null
  const { fingerprint, parts, seed, startFrame, frames, residualDb, verified, faults } = print
  const { sha256, peakDb, loudnessLufs, sampleRate } = medium
  const name = session.channel[print.channel]?.name ?? print.channel
  return {
    item,
    writer: null,
    info,
    made: {
      layout: sink.layout,
      latencySamples: sink.latency,
      ...{ sha256, peakDb, loudnessLufs, sampleRate },
      ...{ fingerprint, parts, seed, startFrame, frames, residualDb, verified, faults },
      notes: [
        ...notesOf(session, { channel: item.source, tap: item.tap }),
        `nothing has changed since “${name}”: copied`
      ],
      printedAt: new Date().toISOString()
    }
  }
}

/** In the order of its items: what lies there already, and what is rendered. */
export async function printPart(pass: Pass, part: Part): Promise<Printed[]> {
  const there = await Promise.all(part.items.map(item => copied(pass, item)))
  const items = part.items.filter((_, i) => !there[i])
  const made = items.length ? await renderPart(pass, { ...part, items }) : []
  return part.items.map((item, i) => there[i] ?? made.find(r => r.item === item)!)
}

/** The session that all of a part sounds in at once. */
export function stageOfPart(session: Session, { out, items }: Part): Session {
  // Of what is parked its sound is wanted, not its silence.
  const sounding = items.reduce((s, item) => soundingSource(s, item.source), session)
  if (!out) return sounding
  const sent = items.map(({ print, source, through }) => ({ print, source, through: through! }))
  return staged(sounding, sent)
}

async function renderPart(
  { running, session, media, range, note, seed, roll: asked, needs, changes, writers }: Pass,
  part: Part
): Promise<Printed[]> {
  const { sql, report, stopped, room: askRoom } = running
  const rate = settings(session).sampleRate
  const stage = stageOfPart(session, part)
  const taps = part.items.map(tapOf)
  const only = part.share === null ? undefined : tracksOf(new Network(stage), part.share)
  const outputs: Output[] = []
  const rolls = part.out ? asked : null
  const rendering = startRender(stage, media, { taps, seed, only })
  if (rolls) rendering.stream.restUntil(Math.floor(Math.max(0, range.from - rolls.pre) / BLOCK) * BLOCK)
  const analog = part.items.map(item => {
    const need = needs.get(item)!
    return sidesIn(need).length ? need : null
  })
  const room = new RoomWatch(session, analog, changes),
    end = range.from + range.frames
  let converters: Converters | null = null,
    written = 0
  try {
    for (const [i, item] of part.items.entries()) {
      const tap = tapOf(item)
      const { layout, latency } = rendering.stream.plan.sinks.get(tapKey(tap))!
      const writer = await MediumWriter.open(sql, layout.length, rate)
      writers.push(writer)
      const breaks = analog[i] ? new Breaks(layout.length, rate) : null
      outputs.push({ item, tap, layout, latency, writer, levels: new Levels(layout, rate), breaks, at: range.from })
    }
    const byTap = new Map<string, Output[]>()
    for (const o of outputs) byTap.set(tapKey(o.tap), [...(byTap.get(tapKey(o.tap)) ?? []), o])
    await render(
      rendering.stream,
      { from: range.from, frames: range.frames + (rolls?.post ?? 0) },
      async (key, audio) => {
        for (const o of byTap.get(key)!) {
          await room.look(o.at)
          const frames = Math.min(audio[0]!.length, end - o.at)
          // What runs on behind it is heard by nobody.
          if (frames <= 0) continue
          const kept = audio.map(leg => leg.subarray(0, frames))
          // From where its way is cut nothing comes back.
          if (o.item.through && room.isLost(outputs.indexOf(o), o.at, frames)) kept.forEach(leg => leg.fill(0))
          o.levels.feed(kept)
          o.breaks?.feed(kept)
          await o.writer.write(kept)
          written += kept.length * frames * 4
          if (written > ROOM_BYTES) {
            written = 0
            await askRoom(0)
          }
          o.at += frames
        }
      },
      { progress: p => report(p * RENDERED, 'printing'), stopped }
    )
    const faults = rendering.stream
      .faults()
      .map(id => `“${stage.channel[id]!.name}” was muted where it put out values that are not numbers`)
    const infos = new Map<string, MediumInfo>()
    for (const o of outputs) infos.set(tapKey(o.tap), await o.writer.finish())
    const residuals = await verify(
      stage,
      media,
      taps,
      range,
      seed,
      (tap, at, n) => readAudio(sql, infos.get(tapKey(tap))!, at, n),
      {
        progress: p => report(RENDERED + p * (1 - RENDERED), 'comparing with the live path'),
        stopped,
        only,
        except: tap =>
          outputs.flatMap((o, i) => (o.item.through && tapKey(o.tap) === tapKey(tap) ? room.lost(i, end) : [])),
        watch: stream => {
          converters = new Converters(stage, stream, rate)
          return at => converters!.look(at)
        }
      }
    )
    return outputs.map((o, i) => {
      const info = infos.get(tapKey(o.tap))!
      const { hash, parts } = fingerprintOf(soundingSource(session, o.item.source), {
        ...o.item,
        ...{ id: o.item.print, seed, startFrame: range.from, frames: range.frames }
      })
      return {
        item: o.item,
        writer: o.writer,
        info,
        made: {
          layout: o.layout,
          sha256: info.sha256,
          frames: info.frames,
          sampleRate: rate,
          ...o.levels.read(),
          fingerprint: hash,
          parts,
          seed,
          startFrame: range.from,
          latencySamples: o.latency,
          ...verdict(residuals.get(tapKey(o.tap))!),
          faults: gathered(
            [
              ...room.lost(i, end),
              ...converters!.read(portsIn(needs.get(o.item)!), o.latency),
              ...breakFaults(o.breaks?.read() ?? [], range.from)
            ],
            range
          ),
          notes: [
            ...notesOf(stage, o.tap),
            ...(analog[i] ? room.notes() : []),
            ...(rolls && range.from > 0
              ? [
                  `a pre-roll of ${(Math.min(range.from, rolls.pre) / rate).toFixed(1)} s: what rang in the units from before it is not in it`
                ]
              : []),
            ...(o.item.through ? throughText(session, o.item.through) : []),
            ...(note ? [note] : []),
            ...faults
          ],
          printedAt: new Date().toISOString()
        }
      }
    })
  } finally {
    rendering.end()
  }
}

/** What a person should know of a print that went through units. */
export function notesOf(session: Session, tap: TapName): string[] {
  const network = new Network(session)
  const upstream = network.reach([tap.channel], id => network.upstream(id))
  return rows(session, 'loop').flatMap(loop => {
    const { slot, returns } = useOf(session, loop)
    const isPassed = slot ? slot.state !== 'off' && upstream.has(slot.channel) : returns.some(f => upstream.has(f.to))
    if (!isPassed) return []
    const dead = deadPoint(session, loop)
    const when =
      loop.applied && loop.ping
        ? `pinged ${loop.ping.measuredAt.slice(0, 16).replace('T', ' ')}`
        : 'not pinged: the driver’s delay was used'
    return [`through “${loop.name}” as declared, ${when}`, ...(dead ? [`nothing came back: ${dead.reason}`] : [])]
  })
}

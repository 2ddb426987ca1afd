// A pass: every print in it from one plan, streamed into media, then verified from what was stored. Tracks appear only
// in the transaction that ends the job.
import { tapKey, type TapName } from '@nullet/core/compile/plan'
import { compile } from '@nullet/core/compile/compile'
import { PlanStream, render } from '@nullet/core/run/stream'
import { Network } from '@nullet/core/graph/network'
import { passJobs, throughText } from '@nullet/core/print/passJobs'
import { clash } from '@nullet/core/print/passPlan'
import { PrintArgs, type MadePrint, type PrintItem } from '@nullet/core/print/printRows'
import { tracksOf } from '@nullet/core/print/stems'
import { clipFrames, sessionFrames } from '@nullet/core/graph/sessionLength'
import { alreadyPrinted } from '@nullet/core/print/reuse'
import { fingerprintOf, soundingSource } from '@nullet/core/print/stale'
import { tailEnd, type TailEnd } from '@nullet/core/print/tailEnd'
import { staged, tapOf } from '@nullet/core/print/through'
import { verify } from '@nullet/core/print/verify'
import { Refusal } from '@nullet/core/foundation/refusal'
import { deadPoint } from '@nullet/core/graph/deadLoop'
import { useOf } from '@nullet/core/graph/holder'
import { rowOf, rows, settings, type Session } from '@nullet/core/session/session'
import { startRender } from '../../host/threads'
import { Levels } from '../../host/levels'
import type { Transaction } from '../store/connect'
import { endJob } from '../store/jobs'
import { mediumInfo, MediumWriter, readAudio, type MediumInfo } from '../store/media'
import { DatabaseMedia } from '../store/mediaReader'
import { withEdits } from '../store/edits'
import { loadSession } from '../store/sessions'
import { Stopped, STORED, type Running } from './job'
import { land } from './land'

interface Output {
  item: PrintItem
  tap: TapName
  writer: MediumWriter
  levels: Levels
  layout: string[]
  latency: number
}

/** What is rendered together: everything, the share of one channel's tracks, or what goes out along ways of its own. */
interface Part {
  share: string | null
  out: boolean
  items: PrintItem[]
}

interface Range {
  from: number
  frames: number
}

/** What each part of the pass is given. */
interface Pass {
  running: Running
  session: Session
  media: DatabaseMedia
  range: Range
  /** Said of every print of it. */
  note: string | null
  seed: number
  /** Of all parts, so that none is left behind. */
  writers: MediumWriter[]
}

const RENDERED = 0.55

export async function print(running: Running): Promise<unknown> {
  const { job, lock } = running
  const args = PrintArgs.parse(job.args)
  const passes = [...new Set(args.items.map(i => i.pass))].sort((a, b) => a - b)
  for (const [n, pass] of passes.entries()) {
    const items = args.items.filter(i => i.pass === pass)
    const report: Running['report'] = (share, step) =>
      running.report(
        (n + share) / passes.length,
        passes.length > 1 ? `pass ${n + 1} of ${passes.length}: ${step}` : step
      )
    const ends = n === passes.length - 1
    await runPass(
      { ...running, report },
      { ...args, items },
      passes.length > 1 ? ` ${pass}` : '',
      async (t, made, session) => {
        if (!ends) return
        await endJob(t, job.id, lock, 'done', { result: args.items.map(item => resultOf(session, item, made)) })
      }
    )
  }
  return STORED
}

/** @param mark tells the steps of several passes of one job apart */
async function runPass(
  running: Running,
  args: PrintArgs,
  mark: string,
  ended: (t: Transaction, made: readonly Printed[], session: Session) => Promise<void>
): Promise<void> {
  const { sql, job, stopped } = running
  // The pass runs on the session as it is when it begins, whatever is edited meanwhile.
  const { session } = await loadSession(sql, job.sessionId)
  // What an earlier try of this job has laid down stays.
  const items = args.items.filter(i => !session.print[i.print])
  refuseImpossible(session, items)
  const media = await DatabaseMedia.of(sql, session)
  const parts = partsOf(items)
  const { range, note } = await rangeOf(args, session, media, parts, stopped)
  const writers: MediumWriter[] = []
  try {
    const results: Printed[] = []
    for (const [i, part] of parts.entries()) {
      const report: Running['report'] = (share, step) => running.report((i + share) / parts.length, step)
      const pass = { running: { ...running, report }, session, media, range, note, seed: args.seed, writers }
      results.push(...(await printPart(pass, part)))
    }
    if (stopped()) throw new Stopped()
    results.sort((a, b) => items.indexOf(a.item) - items.indexOf(b.item))
    await withEdits(sql, async (t, edit, current) => {
      for (const r of results) if (r.writer) await r.writer.publish(t, r.info)
      if (results.length) {
        const landed = land(await current(job.sessionId), session, results)
        await edit(
          job.sessionId,
          { verb: 'several', args: { label: job.label, edits: landed.edits } },
          { gesture: `job ${job.id}${mark}`, client: job.client }
        )
        results.forEach((r, i) => {
          if (landed.notes[i]) r.made.notes.push(landed.notes[i]!)
        })
      }
      await ended(t, results, await current(job.sessionId))
    })
  } catch (error) {
    await Promise.all(writers.map(w => w.discard()))
    throw error
  }
}

/** What is printed, and what is to be said of its end: all prints of a pass begin and end together. */
async function rangeOf(
  { from, frames, tail, seed }: PrintArgs,
  session: Session,
  media: DatabaseMedia,
  parts: readonly Part[],
  stopped: () => boolean
): Promise<{ range: Range; note: string | null }> {
  if (frames !== null) return { range: { from, frames }, note: null }
  if (!tail) return { range: { from, frames: Math.max(1, sessionFrames(session) - from) }, note: null }
  const end = clipFrames(session),
    rate = settings(session).sampleRate
  let longest: TailEnd = { frames: 0, staysDb: null }
  for (const part of parts) {
    const stage = stageOfPart(session, part)
    const plan = compile(stage, { taps: part.items.map(tapOf), seed })
    const found = await tailEnd(new PlanStream(plan, stage, media), end, rate, tail, stopped)
    if (found.frames > longest.frames) longest = found
  }
  const note =
    longest.staysDb === null
      ? null
      : `does not ring out: it stays at ${longest.staysDb.toFixed(1)} dBFS, printed to ${(longest.frames / rate).toFixed(1)} s after the last sound`
  return { range: { from, frames: Math.max(1, end + longest.frames - from) }, note }
}

function partsOf(items: readonly PrintItem[]): Part[] {
  const inside = items.filter(i => !i.through),
    out = items.filter(i => i.through)
  const shares = [...new Set(inside.map(i => i.share))]
  return [
    ...shares.map(share => ({ share, out: false, items: inside.filter(i => i.share === share) })),
    ...(out.length ? [{ share: null, out: true, items: out }] : [])
  ]
}

/** @throws Refusal where something is not there any more, or one thing would be used twice in this pass */
function refuseImpossible(session: Session, items: readonly PrintItem[]): void {
  for (const item of items) {
    const missing = [item.source, item.share].find(id => id !== null && !session.channel[id])
    if (missing)
      throw new Refusal('notFound', `What “${item.name}” was to be printed from is not in the session any more`, [
        missing
      ])
  }
  const { jobs, refused } = passJobs(session, items)
  refused.forEach((reason, i) => {
    if (reason) throw new Refusal('portTaken', reason, [items[i]!.source])
  })
  for (const [i, a] of items.entries())
    for (const [k, b] of items.slice(0, i).entries())
      if (clash(jobs[i]!, jobs[k]!))
        throw new Refusal(
          'portTaken',
          `“${a.name}” and “${b.name}” need the same port, unit or setting: they go in two passes`,
          [a.source, b.source]
        )
}

/** What is said of a print when its job has ended; of one that an earlier try laid down, what its row says. */
function resultOf(session: Session, item: PrintItem, made: readonly Printed[]): object {
  const { print, track, name } = item
  const r = made.find(m => m.item.print === print)
  const { frames, residualDb, verified, notes } = r?.made ?? session.print[print] ?? NOTHING
  return { print, track, name, frames, residualDb, verified, notes, copied: !!r && r.writer === null }
}
const NOTHING = { frames: 0, residualDb: null, verified: 'not yet', notes: [] }

interface Printed {
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
  const { fingerprint, parts, seed, startFrame, frames, residualDb, verified } = print
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
      ...{ fingerprint, parts, seed, startFrame, frames, residualDb, verified },
      notes: [
        ...notesOf(session, { channel: item.source, tap: item.tap }),
        `nothing has changed since “${name}”: copied`
      ],
      printedAt: new Date().toISOString()
    }
  }
}

/** In the order of its items: what lies there already, and what is rendered. */
async function printPart(pass: Pass, part: Part): Promise<Printed[]> {
  const there = await Promise.all(part.items.map(item => copied(pass, item)))
  const items = part.items.filter((_, i) => !there[i])
  const made = items.length ? await renderPart(pass, { ...part, items }) : []
  return part.items.map((item, i) => there[i] ?? made.find(r => r.item === item)!)
}

/** The session that all of a part sounds in at once. */
function stageOfPart(session: Session, { out, items }: Part): Session {
  // Of what is parked its sound is wanted, not its silence.
  const sounding = items.reduce((s, item) => soundingSource(s, item.source), session)
  if (!out) return sounding
  const sent = items.map(({ print, source, through }) => ({ print, source, through: through! }))
  return staged(sounding, sent)
}

async function renderPart(
  { running, session, media, range, note, seed, writers }: Pass,
  part: Part
): Promise<Printed[]> {
  const { sql, report, stopped } = running
  const rate = settings(session).sampleRate
  const stage = stageOfPart(session, part)
  const taps = part.items.map(tapOf)
  const only = part.share === null ? undefined : tracksOf(new Network(stage), part.share)
  const outputs: Output[] = []
  const rendering = startRender(stage, media, { taps, seed, only })
  try {
    for (const item of part.items) {
      const tap = tapOf(item)
      const { layout, latency } = rendering.stream.plan.sinks.get(tapKey(tap))!
      const writer = await MediumWriter.open(sql, layout.length, rate)
      writers.push(writer)
      outputs.push({ item, tap, layout, latency, writer, levels: new Levels(layout, rate) })
    }
    const byTap = new Map<string, Output[]>()
    for (const o of outputs) byTap.set(tapKey(o.tap), [...(byTap.get(tapKey(o.tap)) ?? []), o])
    await render(
      rendering.stream,
      range,
      async (key, audio) => {
        for (const o of byTap.get(key)!) {
          o.levels.feed(audio)
          await o.writer.write(audio)
        }
      },
      { progress: p => report(p * RENDERED, 'printing'), stopped }
    )
    const faults = rendering
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
      { progress: p => report(RENDERED + p * (1 - RENDERED), 'comparing with the live path'), stopped, only }
    )
    return outputs.map(o => {
      const residual = residuals.get(tapKey(o.tap))!,
        info = infos.get(tapKey(o.tap))!
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
          residualDb: Number.isFinite(residual.rmsDb) ? residual.rmsDb : null,
          verified: residual.rmsDb === -Infinity ? ('identical' as const) : ('differs' as const),
          notes: [
            ...notesOf(stage, o.tap),
            ...(o.item.through ? throughText(session, o.item.through) : []),
            ...(note ? [note] : []),
            ...faults
          ],
          printedAt: new Date().toISOString()
        }
      }
    })
  } finally {
    await rendering.end()
  }
}

/** What a person should know of a print that went through units. */
function notesOf(session: Session, tap: TapName): string[] {
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

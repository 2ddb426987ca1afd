// A pass: every print in it from one plan, streamed into media, then verified from what was stored. Tracks appear only
// in the transaction that ends the job.
import { compile } from '@nullet/core/compile/compile'
import { PlanStream } from '@nullet/core/run/stream'
import { passJobs } from '@nullet/core/print/passJobs'
import { clash, type PassJob } from '@nullet/core/print/passPlan'
import { PrintArgs, type PrintItem } from '@nullet/core/print/printRows'
import { clipFrames, sessionFrames } from '@nullet/core/graph/sessionLength'
import { printBytes } from '@nullet/core/print/storage'
import { tailEnd, type TailEnd } from '@nullet/core/print/tailEnd'
import { tapOf } from '@nullet/core/print/through'
import { Refusal } from '@nullet/core/foundation/refusal'
import { settings, type Session } from '@nullet/core/session/session'
import type { Transaction } from '../store/connect'
import { endJob } from '../store/jobs'
import { MediumWriter } from '../store/media'
import { DatabaseMedia } from '../store/mediaReader'
import { withEdits } from '../store/edits'
import { loadSession } from '../store/sessions'
import { Stopped, STORED, type Running } from './job'
import { land } from './land'
import { printPart, stageOfPart, type Part, type Printed, type Range } from './part'
import { changesOf, type Changes } from './roomWatch'

/** @param changes of the session while a pass runs */
export async function print(running: Running, changes?: Changes): Promise<unknown> {
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
      },
      changes
    )
  }
  return STORED
}

/** @param mark tells the steps of several passes of one job apart */
async function runPass(
  running: Running,
  args: PrintArgs,
  mark: string,
  ended: (t: Transaction, made: readonly Printed[], session: Session) => Promise<void>,
  watched?: Changes
): Promise<void> {
  const { sql, job, stopped } = running
  // The pass runs on the session as it is when it begins, whatever is edited meanwhile.
  const { session, revision } = await loadSession(sql, job.sessionId)
  const changes = watched ?? changesOf(sql, job.sessionId, revision)
  // What an earlier try of this job has laid down stays.
  const items = args.items.filter(i => !session.print[i.print])
  const needs = needsOf(session, items)
  const media = await DatabaseMedia.of(sql, session)
  const parts = partsOf(items)
  const { range, note } = await rangeOf(args, session, media, parts, stopped)
  await running.room(items.reduce((sum, item) => sum + printBytes(session, item, range.frames), 0))
  const writers: MediumWriter[] = []
  try {
    const results: Printed[] = []
    for (const [i, part] of parts.entries()) {
      const report: Running['report'] = (share, step) => running.report((i + share) / parts.length, step)
      const pass = {
        running: { ...running, report },
        session,
        media,
        range,
        note,
        seed: args.seed,
        roll: args.roll,
        needs,
        changes,
        writers
      }
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

/**
 * What each print of a pass has to itself and how it is set for it.
 * @throws Refusal where something is not there any more, or one thing would be used twice in this pass
 */
function needsOf(session: Session, items: readonly PrintItem[]): Map<PrintItem, PassJob> {
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
  return new Map(items.map((item, i) => [item, jobs[i]!]))
}

/** What is said of a print when its job has ended; of one that an earlier try laid down, what its row says. */
function resultOf(session: Session, item: PrintItem, made: readonly Printed[]): object {
  const { print, track, name } = item
  const r = made.find(m => m.item.print === print)
  const { frames, residualDb, verified, notes, faults } = r?.made ?? session.print[print] ?? NOTHING
  return { print, track, name, frames, residualDb, verified, notes, faults, copied: !!r && r.writer === null }
}
const NOTHING = { frames: 0, residualDb: null, verified: 'not yet', notes: [], faults: [] }

// Bars of a print that are run again: its live path once more, from which only those bars are taken, with the rest as
// it was printed. What is made is proven from end to end, and in its seams.
import { z } from 'zod'
import { tapKey } from '@nullet/core/compile/plan'
import { compile } from '@nullet/core/compile/compile'
import { Refusal } from '@nullet/core/foundation/refusal'
import { Network } from '@nullet/core/graph/network'
import { Breaks } from '@nullet/core/measure/breaks'
import { NullMeter } from '@nullet/core/measure/null'
import { Converters } from '@nullet/core/print/converters'
import { breakFaults, gathered, overlaps } from '@nullet/core/print/faults'
import { portsIn, sidesIn } from '@nullet/core/print/lost'
import { passJobs } from '@nullet/core/print/passJobs'
import { SEAM_S, Seams, seamText } from '@nullet/core/print/runAgain'
import { partName, soundingSource, staleParts } from '@nullet/core/print/stale'
import { tracksOf } from '@nullet/core/print/stems'
import { stageOf, tapOf } from '@nullet/core/print/through'
import { verdict } from '@nullet/core/print/verify'
import { PlanStream, render } from '@nullet/core/run/stream'
import { MOST_FAULTS, type Clip, type Print } from '@nullet/core/session/rows'
import { rowOf, settings, type Session } from '@nullet/core/session/session'
import { Levels } from '../../host/levels'
import { withEdits } from '../store/edits'
import { endJob } from '../store/jobs'
import { mediumInfo, MediumWriter, readAudio } from '../store/media'
import { DatabaseMedia } from '../store/mediaReader'
import { loadSession } from '../store/sessions'
import { STORED, Stopped, type Running } from './job'
import { changesOf, RoomWatch, type Changes } from './roomWatch'

export const RunAgainArgs = z.object({
  print: z.string(),
  /** Of the audio that it plays then. */
  medium: z.string(),
  /** In order, apart from each other, seams and all; frames of source time. */
  parts: z
    .array(z.object({ from: z.number().int().min(0), frames: z.number().int().min(1) }))
    .min(1, 'no bars are named that are to be run again')
    .max(MOST_FAULTS)
})
type RunAgainArgs = z.output<typeof RunAgainArgs>

const KEPT = 'The print is as it was.'

/** @throws Refusal where it cannot be run again in parts */
function printOf(
  session: Session,
  args: RunAgainArgs
): { print: Print & { source: string }; clip: Clip; name: string } {
  const print = session.print[args.print]
  if (!print) throw new Refusal('notFound', `The print “${args.print}” is not in this session any more`, [], KEPT)
  const clip = session.clip[print.clip ?? ''],
    name = session.channel[print.channel]?.name ?? print.channel
  const refuse = (what: string) => new Refusal('stale', what, [print.channel], KEPT)
  const { source } = print
  if (!source || !session.channel[source] || !clip)
    throw refuse(`What “${name}” was printed from is not in the session any more`)
  const changed = staleParts(session, print.id)
  if (changed.length)
    throw refuse(
      `“${name}” would sound otherwise now: ${partName(session, changed[0]!)} changed since. Print it again as a whole`
    )
  const end = print.startFrame + print.frames
  let last = print.startFrame
  for (const { from, frames } of args.parts) {
    if (from < last || from + frames > end)
      throw new Refusal('badArguments', `Bars that lie outside of “${name}”, or across each other`, [], KEPT)
    last = from + frames
  }
  return { print: { ...print, source }, clip, name }
}

/** @param changes of the session while it runs */
export async function runAgain(running: Running, changes?: Changes): Promise<unknown> {
  const { sql, job, lock, report, stopped, room: askRoom } = running
  const args = RunAgainArgs.parse(job.args)
  const { session, revision } = await loadSession(sql, job.sessionId)
  const { print, clip, name } = printOf(session, args)
  const { source, share, through, seed, startFrame, frames } = print,
    range = { from: startFrame, frames },
    rate = settings(session).sampleRate
  const wanted = { ...print, print: print.id, name, take: null }
  const { jobs, refused } = passJobs(session, [wanted])
  if (refused[0]) throw new Refusal('portTaken', refused[0], [source], KEPT)
  const media = await DatabaseMedia.of(sql, session)
  const stage = stageOf(soundingSource(session, source), { print: print.id, source, through })
  const tap = tapOf({ ...print, print: print.id, source }),
    only = share === null ? undefined : tracksOf(new Network(stage), share)
  const former = rowOf(session, 'medium', clip.medium),
    info = await mediumInfo(sql, former.sha256, former.legs)
  const stream = new PlanStream(compile(stage, { taps: [tap], seed, only }), stage, media)
  const { layout, latency } = stream.plan.sinks.get(tapKey(tap))!
  await askRoom(layout.length * frames * 4)
  const writer = await MediumWriter.open(sql, layout.length, rate)
  try {
    const seams = new Seams(args.parts, Math.round(SEAM_S * rate), range),
      whole = new NullMeter(),
      levels = new Levels(layout, rate),
      breaks = sidesIn(jobs[0]!).length ? new Breaks(layout.length, rate) : null,
      converters = new Converters(stage, stream, rate),
      room = new RoomWatch(session, jobs, changes ?? changesOf(sql, job.sessionId, revision))
    let at = range.from
    await render(
      stream,
      range,
      async (_, fresh) => {
        const n = fresh[0]!.length
        await room.look(at)
        if (seams.touches(at, n) && room.isLost(0, at, n))
          throw new Refusal('stale', `${room.lost(0, at + n).at(-1)!.what} while bars of “${name}” ran`, [], KEPT)
        const audio = seams.join(await readAudio(sql, info, at - range.from, n), fresh, at)
        whole.feed(fresh, audio)
        levels.feed(audio)
        breaks?.feed(audio)
        await writer.write(audio)
        at += n
      },
      { progress: p => report(p, 'running bars again'), stopped, look: frame => converters.look(frame) }
    )
    if (stopped()) throw new Stopped()
    const made = await writer.finish()
    const again = [
      ...converters.read(portsIn(jobs[0]!), latency),
      ...breakFaults(breaks?.read() ?? [], range.from)
    ].filter(f => args.parts.some(p => overlaps(p, f)))
    const left = whole.read(),
      seam = seamText(seams.read())
    const faults = gathered([...print.faults.filter(f => !args.parts.some(p => overlaps(p, f))), ...again], range)
    const place = (frame: number) => `${(frame / rate).toFixed(1)} s`
    const bars = args.parts.map(p => `${place(p.from)} – ${place(p.from + p.frames)}`).join(', ')
    await withEdits(sql, async (t, edit, current) => {
      const now = await current(job.sessionId)
      if (now.clip[clip.id]?.medium !== clip.medium)
        throw new Refusal('stale', `“${name}” plays something else now`, [print.channel], KEPT)
      await writer.publish(t, made)
      const medium = { ...former, id: args.medium, sha256: made.sha256, frames: made.frames, ...levels.read() }
      const found = verdict(left)
      const note = `run again: ${bars}; ${seam}`
      await edit(
        job.sessionId,
        { verb: 'mendPrint', args: { id: print.id, medium, faults, ...found, note } },
        { gesture: `job ${job.id}`, client: job.client }
      )
      await endJob(t, job.id, lock, 'done', { result: { print: print.id, name, bars, seam, faults, ...found } })
    })
    return STORED
  } catch (error) {
    await writer.discard()
    throw error
  }
}

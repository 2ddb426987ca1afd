// Measures by rendering, in a thread of its own beside the sound: one task, then it is done. Stopping ends the thread.
import { observe } from '@nullet/core/checks/observe'
import { applyEdit } from '@nullet/core/edits/apply'
import { costPredictor, costRows, measureCost } from '@nullet/core/measure/cost'
import { compile } from '@nullet/core/compile/compile'
import type { CompileOptions } from '@nullet/core/compile/plan'
import { pairs, PlanStream, render, type RenderRange } from '@nullet/core/run/stream'
import { contributionOf, influenceOf, loudnessOf } from '@nullet/core/measure/influence'
import { ladder, trimTo } from '@nullet/core/measure/ladder'
import { measureSides } from '@nullet/core/measure/sides'
import { provePrint } from '@nullet/core/print/prove'
import { proveSum } from '@nullet/core/print/sum'
import { PeakBuilder } from '@nullet/core/measure/peaks'
import { NullMeter } from '@nullet/core/measure/null'
import { asSession, rowOf, settings, type Session } from '@nullet/core/session/session'
import { mediaOf, Segments } from './segments'
import type { Answer, FromAnalyst, Task } from './analystMessages'

const media = new Segments()
const tell = (m: FromAnalyst) => postMessage(m)
const measuring = { progress: (share: number) => tell({ kind: 'progress', share }) }

onmessage = ({ data }: MessageEvent<{ session: Session; task: Task }>) => {
  media.setMedia(mediaOf(data.session))
  void answer(asSession(data.session), data.task).then(
    result => tell({ kind: 'done', answer: result }),
    error => tell({ kind: 'failed', message: (error as Error).message })
  )
}

async function answer(session: Session, task: Task): Promise<Answer> {
  switch (task.kind) {
    case 'without':
      return { kind: 'without', places: await influenceOf(session, media, task.channel, task.range, measuring) }
    case 'share':
      return {
        kind: 'share',
        ...(await contributionOf(session, media, task.channel, task.heard, task.range, measuring))
      }
    case 'null':
      return { kind: 'null', ...(await nullOf(session, task)) }
    case 'loudness': {
      const found = await loudnessOf(
        session,
        media,
        task.range,
        { taps: task.channels.map(channel => ({ channel, tap: 'post' })) },
        measuring
      )
      return { kind: 'loudness', lufs: task.channels.map(channel => [channel, found.get(`${channel}@post`)!]) }
    }
    case 'sides': {
      const { heard, range, edits } = task
      const taps = [{ channel: heard, tap: 'post' as const }]
      const streams = edits.map(edit => {
        const side = applyEdit(session, edit).session
        return new PlanStream(compile(side, { taps }), side, media)
      })
      const rate = settings(session).sampleRate
      return { kind: 'sides', ...(await measureSides(streams, `${heard}@post`, range, rate, measuring)) }
    }
    case 'prove':
      return { kind: 'prove', ...(await provePrint(session, media, task.print, measuring)) }
    case 'sum':
      return { kind: 'sum', ...(await proveSum(session, media, task.prints, task.range, measuring)) }
    case 'cost':
      return { kind: 'cost', ...(await costOf(session, task)) }
    case 'outline':
      return { kind: 'outline', peaks: await outlineOf(session, task.channel, task.range) }
    case 'ladder': {
      const loop = rowOf(session, 'loop', task.loop)
      return { kind: 'ladder', rungs: await ladder(session, media, loop, task.range, measuring) }
    }
    case 'trim': {
      const loop = rowOf(session, 'loop', task.loop)
      return { kind: 'trim', ...(await trimTo(session, media, loop, task.range, task.target, measuring)) }
    }
    case 'observe':
      return { kind: 'observe', peaksDb: [...(await observe(session, media, task.range)).peaksDb] }
  }
}

/** What an edit would change in what is heard: residual of before against after. */
async function nullOf(session: Session, { edit, heard, range }: Extract<Task, { kind: 'null' }>) {
  const taps = [{ channel: heard, tap: 'post' as const }],
    name = `${heard}@post`
  const stream = (s: Session) => new PlanStream(compile(s, { taps }), s, media)
  const meter = new NullMeter()
  for await (const [before, after] of pairs(
    stream(session),
    stream(applyEdit(session, edit).session),
    name,
    range,
    measuring
  ))
    meter.feed(before, after)
  return meter.read()
}

async function outlineOf(session: Session, channel: string, range: RenderRange): Promise<Int16Array> {
  const peaks = new PeakBuilder()
  await render(
    new PlanStream(compile(session, { taps: [{ channel, tap: 'post' }] }), session, media),
    range,
    (_, audio) => peaks.feed(audio),
    measuring
  )
  return peaks.finish()
}

const seconds = () => performance.now() / 1000

async function costOf(session: Session, { heard, range, tries }: Extract<Task, { kind: 'cost' }>) {
  const options: CompileOptions = { taps: [], live: true, heard: { channel: heard, latency: 0 } }
  const cost = await measureCost(session, media, options, range, settings(session).sampleRate, seconds, measuring)
  const predict = costPredictor(cost, options)
  return {
    rows: costRows(cost),
    seconds: cost.seconds,
    audioSeconds: cost.audioSeconds,
    saved: tries.map(({ name, edit }) => ({
      name,
      share: 1 - predict(applyEdit(session, edit).session) / cost.seconds
    }))
  }
}

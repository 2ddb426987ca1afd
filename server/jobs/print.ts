// A pass: every print in it from one plan, streamed into media, then verified from what was stored. Tracks appear only
// in the transaction that ends the job.
import { tapKey, type TapName } from '@nullet/core/compile/plan'
import { render } from '@nullet/core/run/stream'
import { Network } from '@nullet/core/graph/network'
import { fingerprint } from '@nullet/core/print/fingerprint'
import { PrintArgs, type PrintItem } from '@nullet/core/print/printRows'
import { sessionFrames } from '@nullet/core/graph/sessionLength'
import { verify } from '@nullet/core/print/verify'
import { Refusal } from '@nullet/core/foundation/refusal'
import { deadPoint } from '@nullet/core/graph/deadLoop'
import { useOf } from '@nullet/core/graph/holder'
import { rows, settings, type Session } from '@nullet/core/session/session'
import { startRender } from '../../host/threads'
import { Levels } from '../../host/levels'
import { endJob } from '../store/jobs'
import { MediumWriter, readAudio, type MediumInfo } from '../store/media'
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

export async function print({ sql, job, lock, report, stopped }: Running): Promise<unknown> {
  const args = PrintArgs.parse(job.args)
  // The pass runs on the session as it is now, whatever is edited meanwhile.
  const { session } = await loadSession(sql, job.sessionId)
  const rate = settings(session).sampleRate
  for (const item of args.items) {
    if (!session.channel[item.source])
      throw new Refusal('notFound', `What “${item.name}” was to be printed from is not in the session any more`, [
        item.source
      ])
  }
  const range = { from: args.from, frames: args.frames ?? Math.max(1, sessionFrames(session) - args.from) }
  const taps = args.items.map(i => ({ channel: i.source, tap: i.tap }))
  const media = await DatabaseMedia.of(sql, session)
  const outputs: Output[] = []
  const rendering = startRender(session, media, { taps, seed: args.seed })
  try {
    for (const item of args.items) {
      const tap = { channel: item.source, tap: item.tap }
      const { layout, latency } = rendering.stream.plan.sinks.get(tapKey(tap))!
      outputs.push({
        item,
        tap,
        layout,
        latency,
        writer: await MediumWriter.open(sql, layout.length, rate),
        levels: new Levels(layout, rate)
      })
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
      { progress: p => report(p * 0.55, 'printing'), stopped }
    )

    const faults = rendering
      .faults()
      .map(id => `“${session.channel[id].name}” was muted where it put out values that are not numbers`)
    const infos = new Map<string, MediumInfo>()
    for (const o of outputs) infos.set(tapKey(o.tap), await o.writer.finish())
    const residuals = await verify(
      session,
      media,
      taps,
      range,
      args.seed,
      (tap, at, n) => readAudio(sql, infos.get(tapKey(tap))!, at, n),
      { progress: p => report(0.55 + p * 0.45, 'comparing with the live path'), stopped }
    )
    if (stopped()) throw new Stopped()

    const results = outputs.map(o => {
      const residual = residuals.get(tapKey(o.tap))!
      const { hash, parts } = fingerprint(session, o.item.source, o.item.tap, { seed: args.seed, ...range })
      const info = infos.get(tapKey(o.tap))!
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
          seed: args.seed,
          startFrame: args.from,
          latencySamples: o.latency,
          residualDb: Number.isFinite(residual.rmsDb) ? residual.rmsDb : null,
          verified: residual.rmsDb === -Infinity ? ('identical' as const) : ('differs' as const),
          notes: [...notesOf(session, o.tap), ...faults],
          printedAt: new Date().toISOString()
        }
      }
    })
    await withEdits(sql, async (t, edit, current) => {
      for (const r of results) await r.writer.publish(t, r.info)
      const landed = land(await current(job.sessionId), session, results)
      await edit(
        job.sessionId,
        { verb: 'several', args: { label: job.label, edits: landed.edits } },
        { gesture: `job ${job.id}`, client: job.client }
      )
      results.forEach((r, i) => {
        if (landed.notes[i]) r.made.notes.push(landed.notes[i]!)
      })
      await endJob(t, job.id, lock, 'done', {
        result: results.map(r => ({
          print: r.item.print,
          track: r.item.track,
          name: r.item.name,
          frames: r.made.frames,
          residualDb: r.made.residualDb,
          verified: r.made.verified,
          notes: r.made.notes
        }))
      })
    })
    return STORED
  } catch (error) {
    await Promise.all(outputs.map(o => o.writer.discard()))
    throw error
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

// What came back from outside is found by its marks, put right, and laid where what was sent lies.
import { Refusal } from '@nullet/core/foundation/refusal'
import { offsiteReturn } from '@nullet/core/measure/offsite'
import { offsiteEdit, OffsiteArgs, offsiteNotes, offsiteParts, offsiteShape } from '@nullet/core/print/offsitePass'
import { fingerprintOf, soundingSource } from '@nullet/core/print/stale'
import { layoutOf } from '@nullet/core/session/layouts'
import { settings } from '@nullet/core/session/session'
import { Levels } from '../../host/levels'
import type { Sql } from '../store/connect'
import { withEdits } from '../store/edits'
import { endJob } from '../store/jobs'
import { mediumInfo, MediumWriter, readAudio, type MediumInfo } from '../store/media'
import { loadSession } from '../store/sessions'
import { STORED, Stopped, type Running } from './job'

/** All of what came back is held at once: half an hour of stereo at 96 kHz. */
const MOST_SAMPLES = 2 * 1800 * 96000
const PIECE = 2 ** 18
const READ = 0.2

/** Legs × frames. */
async function readWhole(sql: Sql, info: MediumInfo, read: (share: number) => void): Promise<Float32Array[]> {
  const audio = Array.from({ length: info.legs }, () => new Float32Array(info.frames))
  for (let at = 0; at < info.frames; at += PIECE) {
    const part = await readAudio(sql, info, at, Math.min(PIECE, info.frames - at))
    part.forEach((leg, i) => audio[i]!.set(leg, at))
    read(at / info.frames)
  }
  return audio
}

export async function offsite({ sql, job, lock, report, stopped, room }: Running): Promise<unknown> {
  const args = OffsiteArgs.parse(job.args)
  const { session } = await loadSession(sql, job.sessionId)
  const { medium, returned, name } = offsiteParts(session, args),
    rate = settings(session).sampleRate,
    shape = offsiteShape(medium, rate)
  if (returned.frames * returned.legs > MOST_SAMPLES)
    throw new Refusal('tooLarge', `“${name}” is too long: half an hour of stereo at 96 kHz is the most`, [args.back])
  const info = await mediumInfo(sql, returned.sha256, returned.legs)
  const audio = await readWhole(sql, info, share => {
    report(share * READ, 'reading what came back')
    if (stopped()) throw new Stopped()
  })
  const found = offsiteReturn(audio, shape, share => report(READ + share * (1 - READ), 'looking for the marks'))
  if ('refused' in found)
    throw new Refusal('badFile', `“${name}” cannot be laid: ${found.refused}`, [args.back], 'It stays as it came.')
  const frames = found.audio[0]!.length,
    layout = layoutOf(found.audio.length)
  await room(found.audio.length * frames * 4)
  const writer = await MediumWriter.open(sql, found.audio.length, rate)
  try {
    const levels = new Levels(layout, rate)
    for (let at = 0; at < frames; at += PIECE) {
      const part = found.audio.map(leg => leg.subarray(at, at + PIECE))
      levels.feed(part)
      await writer.write(part)
      if (stopped()) throw new Stopped()
    }
    const made = await writer.finish()
    const notes = offsiteNotes(found, name, rate)
    await withEdits(sql, async (t, edit, current) => {
      const now = await current(job.sessionId)
      const kept = {
        id: args.print,
        source: args.source,
        tap: 'input' as const,
        share: null,
        through: null,
        seed: 1,
        startFrame: offsiteParts(now, args).startFrame,
        frames
      }
      const { hash, parts } = fingerprintOf(soundingSource(now, args.source), kept)
      await writer.publish(t, made)
      await edit(
        job.sessionId,
        offsiteEdit(now, args, {
          layout,
          ...{ sha256: made.sha256, frames, sampleRate: rate, ...levels.read() },
          ...{ fingerprint: hash, parts, seed: kept.seed, latencySamples: 0, residualDb: null },
          ...{ verified: 'not yet' as const, faults: [], notes, printedAt: new Date().toISOString() }
        }),
        { gesture: `job ${job.id}`, client: job.client }
      )
      await endJob(t, job.id, lock, 'done', {
        result: { print: args.print, track: args.track, name: args.name, notes }
      })
    })
    return STORED
  } catch (error) {
    await writer.discard()
    throw error
  }
}

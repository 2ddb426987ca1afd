// Brings audio in as it arrives: read, checked, converted where the rate differs, measured, written in blocks.
import { layoutOf } from '@nullet/core/session/layouts'
import { MOST_LEGS, type WavShape } from '@nullet/core/formats/wav'
import { Refusal } from '@nullet/core/foundation/refusal'
import { Levels } from '../../host/levels'
import { resampled } from '../../host/resample'
import { wavPieces } from '../../host/wavFile'
import type { Sql } from '../store/connect'
import { MediumWriter, type MediumInfo } from '../store/media'

export interface Imported {
  writer: MediumWriter
  info: MediumInfo
  layout: string[]
  originalRate: number | null
  peakDb: number | null
  loudnessLufs: number | null
}

type Pieces = AsyncIterable<Float32Array[]>

/** One medium from legs × n pieces at a known rate. */
export async function writeMedium(
  sql: Sql,
  pieces: Pieces,
  legs: number,
  rate: number,
  wantedRate: number,
  layout = layoutOf(legs)
): Promise<Imported> {
  const writer = await MediumWriter.open(sql, legs, wantedRate)
  const levels = new Levels(layout, wantedRate)
  try {
    for await (const audio of rate === wantedRate ? pieces : resampled(pieces, legs, rate, wantedRate)) {
      levels.feed(audio)
      await writer.write(audio)
    }
    return {
      writer,
      info: await writer.finish(),
      layout,
      originalRate: rate === wantedRate ? null : rate,
      ...levels.read()
    }
  } catch (error) {
    await writer.discard()
    throw error
  }
}

/**
 * A WAV stream into one medium, or with `split` into one mono medium a leg.
 * @throws Refusal for what is not a sound WAV; nothing of it is kept then
 */
export async function importWav(
  sql: Sql,
  source: AsyncIterable<Uint8Array>,
  name: string,
  total: number | null,
  wantedRate: number,
  split: boolean
): Promise<Imported[]> {
  const pieces = wavPieces(source, name, total)
  try {
    const first = await pieces.next()
    if (first.done)
      throw new Refusal('badFile', `${name}: it holds no samples`, [], 'Nothing of this file was imported.')
    const { shape } = first.value
    if (split) return await writeLegs(sql, first.value, pieces, shape, wantedRate)
    if (shape.legs > MOST_LEGS) {
      throw new Refusal(
        'layout',
        `${name} has ${shape.legs} legs; a track takes at most ${MOST_LEGS}. It can be brought in as ${shape.legs} mono tracks.`,
        [],
        'Nothing of this file was imported.'
      )
    }
    return [
      await writeMedium(
        sql,
        audioOf(first.value, pieces),
        shape.legs,
        shape.sampleRate,
        wantedRate,
        shape.layout ?? layoutOf(shape.legs)
      )
    ]
  } finally {
    // Lets go of the source: whoever owns it may have to drain it.
    await pieces.return(undefined)
  }
}

async function* audioOf(first: { audio: Float32Array[] }, rest: AsyncIterable<{ audio: Float32Array[] }>): Pieces {
  yield first.audio
  for await (const piece of rest) yield piece.audio
}

/** All legs at once, each into its own medium: every piece is handed to every leg's writer in turn. */
async function writeLegs(
  sql: Sql,
  first: { audio: Float32Array[] },
  rest: AsyncIterable<{ audio: Float32Array[] }>,
  shape: WavShape,
  wantedRate: number
): Promise<Imported[]> {
  const queues = Array.from({ length: shape.legs }, () => new Handover())
  const written = queues.map(q => writeMedium(sql, q, 1, shape.sampleRate, wantedRate))
  written.forEach(w => w.catch(() => {}))
  try {
    for await (const audio of audioOf(first, rest))
      for (const [i, q] of queues.entries()) await q.give([audio[i].slice()])
    queues.forEach(q => q.end())
    return await Promise.all(written)
  } catch (error) {
    queues.forEach(q => q.fail(error))
    const done = await Promise.allSettled(written)
    for (const d of done) if (d.status === 'fulfilled') await d.value.writer.discard()
    throw error
  }
}

/** Hands pieces from one loop to another, one at a time. */
class Handover implements AsyncIterable<Float32Array[]> {
  private taken: (() => void) | null = null
  private waiting: { done(v: IteratorResult<Float32Array[]>): void; fail(e: unknown): void } | null = null
  private piece: Float32Array[] | null = null
  private over: { error?: unknown } | null = null

  async give(piece: Float32Array[]): Promise<void> {
    if (this.waiting) {
      this.waiting.done({ value: piece, done: false })
      this.waiting = null
      return
    }
    this.piece = piece
    await new Promise<void>(done => {
      this.taken = done
    })
  }

  end(): void {
    this.finish({})
  }
  fail(error: unknown): void {
    this.finish({ error })
  }

  private finish(over: { error?: unknown }): void {
    this.over = over
    if (!this.waiting) return
    if (over.error) this.waiting.fail(over.error)
    else this.waiting.done({ value: undefined, done: true })
    this.waiting = null
  }

  [Symbol.asyncIterator](): AsyncIterator<Float32Array[]> {
    return {
      next: () =>
        new Promise((done, fail) => {
          if (this.piece) {
            done({ value: this.piece, done: false })
            this.piece = null
            this.taken?.()
          } else if (this.over) this.over.error ? fail(this.over.error) : done({ value: undefined, done: true })
          else this.waiting = { done, fail }
        })
    }
  }
}

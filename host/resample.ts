// Files and streams of audio at another sample rate.
import { createReadStream } from 'node:fs'
import { stat } from 'node:fs/promises'
import { basename } from 'node:path'
import { resampledFrames, Resampler } from '@nullet/core/run/resampler'
import { layoutOf } from '@nullet/core/session/layouts'
import { inspectWav, wavPieces, WavSink } from './wavFile'

/** Converts legs × n pieces; what comes out starts at the same moment as what goes in. */
export async function* resampled(
  pieces: AsyncIterable<Float32Array[]>,
  legs: number,
  from: number,
  to: number
): AsyncGenerator<Float32Array[]> {
  const resampler = new Resampler(legs, from, to)
  for await (const piece of pieces) {
    const out = resampler.feed(piece)
    if (out[0]!.length) yield out
  }
  const rest = resampler.end()
  if (rest[0]!.length) yield rest
}

/** A copy of a WAV file at another rate, 32-bit float, written to `out`. */
export async function resampledFile(path: string, rate: number, out: string): Promise<string> {
  const { shape } = inspectWav(path)
  const total = (await stat(path)).size
  const sink = await WavSink.create(
    out,
    shape.layout ?? layoutOf(shape.legs),
    rate,
    resampledFrames(shape.frames, shape.sampleRate, rate),
    '32f'
  )
  const pieces = (async function* () {
    for await (const p of wavPieces(createReadStream(path), basename(path), total)) yield p.audio
  })()
  for await (const audio of resampled(pieces, shape.legs, shape.sampleRate, rate)) await sink.write(audio)
  await sink.close()
  return out
}

// Sample rate conversion by libsamplerate's best sinc converter, piece by piece.
import { layoutOf } from '@nullet/core/session/layouts'
import { createReadStream } from 'node:fs'
import { stat } from 'node:fs/promises'
import { basename } from 'node:path'
import samplerate from '@alexanderolsen/libsamplerate-js'
import { inspectWav, wavPieces, WavSink } from './wavFile'

// The package is CommonJS: in Node its names come with the default export only.
const { create, ConverterType } = samplerate

/** Frames that a file of so many has at another rate. */
export const resampledFrames = (frames: number, from: number, to: number) => Math.round((frames * to) / from)

/** Converts legs × n pieces; what comes out starts at the same moment as what goes in. */
export async function* resampled(
  pieces: AsyncIterable<Float32Array[]>,
  legs: number,
  from: number,
  to: number
): AsyncGenerator<Float32Array[]> {
  // One converter a leg: the library's own limit on legs does not matter then.
  const converters = await Promise.all(
    Array.from({ length: legs }, () => create(1, from, to, { converterType: ConverterType.SRC_SINC_BEST_QUALITY }))
  )
  let came = 0,
    gone = 0
  const cut = (audio: Float32Array[], most: number) => {
    const n = Math.min(audio[0].length, most - gone)
    gone += n
    return audio.map(leg => leg.slice(0, n))
  }
  try {
    for await (const piece of pieces) {
      // The library's buffers hold a limited number of frames.
      for (let at = 0; at < piece[0].length; at += 16384) {
        const part = piece.map(leg => leg.slice(at, at + 16384))
        came += part[0].length
        const out = part.map((leg, i) => converters[i].full(leg).slice())
        if (out[0].length) yield cut(out, Infinity)
      }
    }
    // What is still inside the filters comes out after silence.
    for (let i = 0; i < 8 && gone < resampledFrames(came, from, to); i++) {
      const out = converters.map(c => c.full(new Float32Array(4096)).slice())
      if (out[0].length) yield cut(out, resampledFrames(came, from, to))
    }
  } finally {
    converters.forEach(c => c.destroy())
  }
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

import { createReadStream } from 'node:fs'
import { stat } from 'node:fs/promises'
import { basename } from 'node:path'
import { layoutOf } from '@nullet/core/session/layouts'
import { LoudnessMeter } from '@nullet/core/measure/loudness'
import { Refusal } from '@nullet/core/foundation/refusal'
import { wavPieces } from '../host/wavFile'
import { readOptions } from './options'

/** `nullet loudness`: ITU-R BS.1770-4 of a WAV file, loudness range after EBU Tech 3342. */
export async function loudness(args: string[]) {
  const { path } = readOptions(args, [])
  const info = await stat(path).catch(() => {
    throw new Refusal('notFound', `There is no file ${path}`)
  })
  if (!info.isFile()) throw new Refusal('badFile', `${path} is not a file: loudness is measured of one WAV file`)
  let meter: LoudnessMeter | undefined,
    frames = 0,
    shape
  for await (const piece of wavPieces(createReadStream(path), basename(path), info.size)) {
    shape = piece.shape
    meter ??= new LoudnessMeter(shape.layout ?? layoutOf(shape.legs), shape.sampleRate)
    meter.feed(piece.audio)
    frames += piece.audio[0].length
  }
  return { file: basename(path), legs: shape!.legs, sampleRate: shape!.sampleRate, frames, ...meter!.read() }
}

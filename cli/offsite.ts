// An off-site pass by files: `nullet offsite-feed` writes what goes to whoever owns the unit, `nullet offsite-return`
// lays what came back in place.
import { rename, rm } from 'node:fs/promises'
import { Refusal } from '@nullet/core/foundation/refusal'
import { offsiteFeed, offsitePlaces, offsiteReturn, type OffsiteShape } from '@nullet/core/measure/offsite'
import { layoutOf } from '@nullet/core/session/layouts'
import { resampledFile } from '../host/resample'
import { inTemporary } from '../host/temporary'
import { WavFile, WavSink } from '../host/wavFile'
import { readOptions, secondsOption } from './options'
import { userPath } from './paths'

const USUAL_TAIL_S = 4
/** All of a file is held at once: an hour of stereo at 96 kHz. */
const MOST_SAMPLES = 2 * 3600 * 96000

interface Sound {
  audio: Float32Array[]
  rate: number
  layout: readonly string[]
}

function readAll(path: string): Sound {
  const file = new WavFile(path)
  try {
    const { frames, legs, sampleRate, layout } = file.shape
    if (frames * legs > MOST_SAMPLES)
      throw new Refusal('tooLarge', `${path} is too long for an off-site pass: an hour of stereo at 96 kHz is the most`)
    return { audio: file.read(0, frames), rate: sampleRate, layout: layout ?? layoutOf(legs) }
  } finally {
    file.close()
  }
}

/** Whole or not at all: a file of that name is replaced when the new one is complete. */
async function write(path: string, { audio, rate, layout }: Sound): Promise<void> {
  const part = `${path}.part`
  try {
    const sink = await WavSink.create(part, layout, rate, audio[0]!.length, '32f')
    await sink.write(audio)
    await sink.close()
    await rename(part, path)
  } catch (error) {
    await rm(part, { force: true })
    throw error
  }
}

function wanted(value: string | undefined, name: string): string {
  if (!value) throw new Refusal('badArguments', `--${name} is missing: a WAV file`)
  return userPath(value)
}

export async function offsiteFeedFile(args: string[]) {
  const { path, values } = readOptions(args, ['out', 'tail'])
  const out = wanted(values.out, 'out')
  const sound = readAll(path)
  const tailFrames = secondsOption(values.tail, 'tail', sound.rate) ?? USUAL_TAIL_S * sound.rate
  const shape: OffsiteShape = { rate: sound.rate, frames: sound.audio[0]!.length, tailFrames }
  await write(out, { ...sound, audio: offsiteFeed(sound.audio, shape) })
  const places = offsitePlaces(shape)
  return {
    file: out,
    seconds: places.length / sound.rate,
    programmeAtSeconds: places.programme / sound.rate,
    ask: 'Play all of it through the unit and record all of it, from before the first mark until after the second one.'
  }
}

export async function offsiteReturnFile(args: string[]) {
  const { path, values } = readOptions(args, ['out', 'feed'])
  const feed = readAll(wanted(values.feed, 'feed')),
    out = wanted(values.out, 'out')
  const overhead = offsitePlaces({ rate: feed.rate, frames: 0, tailFrames: 0 }).length
  const frames = feed.audio[0]!.length - overhead
  if (frames <= 0) throw new Refusal('badFile', `${values.feed} is no feed file: it is shorter than its marks would be`)
  const { sound, ownRate } = await inTemporary('offsite', async folder => {
    const own = readAll(path)
    if (own.rate === feed.rate) return { sound: own, ownRate: own.rate }
    return { sound: readAll(await resampledFile(path, feed.rate, `${folder}/return.wav`)), ownRate: own.rate }
  })
  const result = offsiteReturn(sound.audio, { rate: feed.rate, frames, tailFrames: 0 })
  if ('refused' in result)
    throw new Refusal('badFile', `${path} cannot be laid: ${result.refused}`, [], 'Nothing was written.')
  const { audio, inverted, gainDb, ...found } = result
  await write(out, { ...sound, audio })
  return {
    file: out,
    ...found,
    convertedFromHz: ownRate === feed.rate ? null : ownRate,
    polarity: inverted === null ? 'not certain: left as it came' : inverted ? 'was turned, turned back' : 'as sent',
    gain: gainDb === null ? 'not certain: left as it came' : `${gainDb.toFixed(2)} dB, put right`
  }
}

// Brings audio in as it arrives: cut into blocks in a thread (shaping.ts), written as blocks come.
import { layoutOf } from '@nullet/core/session/layouts'
import { Levels } from '../../host/levels'
import { resampled } from '../../host/resample'
import type { Sql } from '../store/connect'
import { MediumWriter, type MediumInfo } from '../store/media'
import { shaped } from './shapingPool'

export interface Imported {
  writer: MediumWriter
  info: MediumInfo
  layout: string[]
  originalRate: number | null
  title: string
  timeReference: number | null
  peakDb: number | null
  loudnessLufs: number | null
}

/** One medium from legs × n pieces at a known rate. */
export async function writeMedium(
  sql: Sql,
  pieces: AsyncIterable<Float32Array[]>,
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
      title: '',
      timeReference: null,
      ...levels.read()
    }
  } catch (error) {
    await writer.discard()
    throw error
  }
}

/**
 * A sound file’s stream into one medium, or with `split` into one mono medium a leg.
 * @throws Refusal for what is not a sound file; nothing of it is kept then
 */
export async function importSound(
  sql: Sql,
  source: AsyncIterable<Uint8Array>,
  name: string,
  total: number | null,
  wantedRate: number,
  split: boolean
): Promise<Imported[]> {
  const writers: MediumWriter[] = []
  // What each medium's blocks wait for: legs are known with the first block alone.
  const writerOf = async (medium: number, legs: number) =>
    (writers[medium] ??= await MediumWriter.open(sql, legs, wantedRate))
  try {
    const made = await shaped(source, { name, total, wantedRate, split }, async blocks => {
      for (const medium of new Set(blocks.map(b => b.medium))) {
        const own = blocks.filter(b => b.medium === medium)
        await (await writerOf(medium, own[0]!.legs)).put(own.map(b => b.bytes))
      }
    })
    const imported: Imported[] = []
    for (const [
      medium,
      { layout, originalRate, title, timeReference, peakDb, loudnessLufs, ...rest }
    ] of made.entries()) {
      const writer = await writerOf(medium, layout.length)
      const info = await writer.finish(rest)
      imported.push({ writer, info, layout, originalRate, title, timeReference, peakDb, loudnessLufs })
    }
    return imported
  } catch (error) {
    await Promise.all(writers.map(w => w.discard()))
    throw error
  }
}

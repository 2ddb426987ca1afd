// Audio as the bytes of a WAV file, any range of them.
import type { Sql } from './connect'
import { readAudio, type MediumInfo } from './media'
import { WavEncoder, wavHeader, wavPadding, type Depth } from '@nullet/core/formats/wav'

const PIECE = 65536

export interface WavAudio {
  legs: number
  frames: number
  sampleRate: number
  /** By which its dither is its own. */
  sha256: string
  /** Legs × frames. */
  read(from: number, frames: number): Promise<Float32Array[]>
}

/** A medium as it is stored. */
export const storedAudio = (sql: Sql, info: MediumInfo): WavAudio => ({
  ...info,
  read: (from, frames) => readAudio(sql, info, from, frames)
})

const frameBytes = (info: WavAudio, depth: Depth) => info.legs * (depth === '32f' ? 4 : depth / 8)

export const wavLength = (info: WavAudio, depth: Depth) =>
  wavHeader(info.legs, info.sampleRate, info.frames, depth).length +
  info.frames * frameBytes(info, depth) +
  wavPadding(info.legs, info.frames, depth).length

/** Bytes from … to, both included. */
export async function* wavBytes(
  info: WavAudio,
  depth: Depth,
  from = 0,
  to = wavLength(info, depth) - 1
): AsyncGenerator<Uint8Array> {
  const header = wavHeader(info.legs, info.sampleRate, info.frames, depth)
  if (from < header.length) yield header.subarray(from, Math.min(header.length, to + 1))
  const size = frameBytes(info, depth)
  const first = Math.max(0, Math.floor((from - header.length) / size))
  for (let at = first; at < info.frames; at += PIECE) {
    const start = header.length + at * size
    if (start > to) return
    const audio = await info.read(at, Math.min(PIECE, info.frames - at))
    const bytes = new WavEncoder(depth, info.sha256, at).encode(audio)
    yield bytes.subarray(Math.max(0, from - start), Math.min(bytes.length, to + 1 - start))
  }
  if (to >= wavLength(info, depth) - wavPadding(info.legs, info.frames, depth).length)
    yield wavPadding(info.legs, info.frames, depth)
}

// A stored medium as the bytes of a WAV file, any range of them.
import { WavEncoder, wavHeader, wavPadding, type Depth } from '@nullet/core/formats/wav'
import type { Sql } from './connect'
import { readAudio, type MediumInfo } from './media'

const PIECE = 65536

const frameBytes = (info: MediumInfo, depth: Depth) => info.legs * (depth === '32f' ? 4 : depth / 8)

export const wavLength = (info: MediumInfo, depth: Depth) =>
  wavHeader(info.legs, info.sampleRate, info.frames, depth).length +
  info.frames * frameBytes(info, depth) +
  wavPadding(info.legs, info.frames, depth).length

/** Bytes from … to, both included. */
export async function* wavBytes(
  sql: Sql,
  info: MediumInfo,
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
    const audio = await readAudio(sql, info, at, Math.min(PIECE, info.frames - at))
    const bytes = new WavEncoder(depth, info.sha256, at).encode(audio)
    yield bytes.subarray(Math.max(0, from - start), Math.min(bytes.length, to + 1 - start))
  }
  if (to >= wavLength(info, depth) - wavPadding(info.legs, info.frames, depth).length)
    yield wavPadding(info.legs, info.frames, depth)
}

// WAV files on disk: checked once, then read at any place.
import { closeSync, fstatSync, openSync, readSync } from 'node:fs'
import { createHash } from 'node:crypto'
import { basename } from 'node:path'
import { wavHeader, wavPadding, interleaved, WavEncoder, type Depth } from '@nullet/core/formats/wav'
import { WavReader } from '@nullet/core/formats/wavReader'
import type { SoundShape } from '@nullet/core/formats/soundFile'
import { open, type FileHandle } from 'node:fs/promises'

const PIECE = 1 << 18

/** Shape and place of the samples. @throws Refusal when the file is not what it says */
export function inspectWav(
  path: string,
  name = basename(path)
): { shape: SoundShape & { frames: number }; offset: number } {
  const file = openSync(path, 'r')
  try {
    const total = fstatSync(file).size
    const reader = new WavReader(name, total)
    const buffer = Buffer.alloc(PIECE)
    for (let at = 0; !reader.dataOffset;) {
      const n = readSync(file, buffer, 0, PIECE, at)
      if (!n) break
      reader.push(buffer.subarray(0, n))
      at += n
    }
    if (!reader.shape || !reader.dataOffset) reader.end()
    const { legs, bits } = reader.shape!
    const frames = reader.shape!.frames ?? Math.floor((total - reader.dataOffset) / ((legs * bits) / 8))
    if (!frames) new WavReader(name).end()
    return { shape: { ...reader.shape!, frames }, offset: reader.dataOffset }
  } finally {
    closeSync(file)
  }
}

/** Pieces of a file as legs × frames, all samples checked. */
export async function* wavPieces(
  source: AsyncIterable<Uint8Array>,
  name: string,
  total: number | null
): AsyncGenerator<{ audio: Float32Array[]; shape: SoundShape }> {
  const reader = new WavReader(name, total)
  for await (const bytes of source) {
    const audio = reader.push(bytes)
    if (audio) yield { audio, shape: reader.shape! }
  }
  reader.end()
}

/** Random access, blocking: for renders from a folder. */
export class WavFile {
  private readonly file: number
  readonly shape: SoundShape & { frames: number }
  private readonly offset: number

  constructor(path: string) {
    const { shape, offset } = inspectWav(path)
    this.shape = shape
    this.offset = offset
    this.file = openSync(path, 'r')
  }

  /** Legs × frames from any frame on; zero beyond the end. */
  read(from: number, frames: number): Float32Array[] {
    const { legs, bits, float, sampleRate } = this.shape
    const out = Array.from({ length: legs }, () => new Float32Array(frames))
    const have = Math.max(0, Math.min(frames, this.shape.frames - from))
    if (!have) return out
    const frame = (legs * bits) / 8
    const bytes = Buffer.alloc(have * frame)
    readSync(this.file, bytes, 0, bytes.length, this.offset + from * frame)
    // The same decoder as an import, over a header of its own.
    const reader = new WavReader('audio')
    reader.push(rawHeader(legs, sampleRate, have, bits, float))
    reader.push(bytes)?.forEach((leg, i) => out[i].set(leg))
    return out
  }

  close(): void {
    closeSync(this.file)
  }
}

function rawHeader(legs: number, rate: number, frames: number, bits: number, float: boolean): Uint8Array {
  const header = wavHeader(Math.min(legs, 2), rate, frames, float ? '32f' : (bits as Depth))
  const view = new DataView(header.buffer)
  view.setUint16(22, legs, true)
  view.setUint16(34, bits, true)
  view.setUint32(header.length - 4, (frames * legs * bits) / 8, true)
  return header
}

/** Writes a WAV as it comes, and knows the SHA-256 of its float samples (interleaved, little-endian). */
export class WavSink {
  private readonly encoder: WavEncoder
  private readonly hash = createHash('sha256')
  private constructor(
    private readonly file: FileHandle,
    depth: Depth,
    identity: string,
    private readonly padding: Uint8Array
  ) {
    this.encoder = new WavEncoder(depth, identity)
  }

  /** @param identity names the file to its dither: the same print, the same bytes */
  static async create(
    path: string,
    layout: readonly string[],
    rate: number,
    frames: number,
    depth: Depth,
    identity = ''
  ): Promise<WavSink> {
    const file = await open(path, 'w')
    await file.write(wavHeader(layout, rate, frames, depth))
    return new WavSink(file, depth, identity, wavPadding(layout.length, frames, depth))
  }

  async write(audio: readonly Float32Array[]): Promise<void> {
    this.hash.update(interleave(audio))
    await this.file.write(this.encoder.encode(audio))
  }

  async close(): Promise<{ sha256: string; clipped: number }> {
    if (this.padding.length) await this.file.write(this.padding)
    await this.file.close()
    return { sha256: this.hash.digest('hex'), clipped: this.encoder.clipped }
  }
}

/** The bytes of all samples, frame after frame, to be read at once: one leg's are not copied. */
export function interleave(audio: readonly Float32Array[]): Uint8Array {
  const { buffer, byteOffset, byteLength } = audio.length === 1 ? audio[0]! : interleaved(audio)
  return new Uint8Array(buffer, byteOffset, byteLength)
}

// Audio cut into the blocks that media are kept in, with everything that is known of it by its samples alone: hashes,
// the picture's peaks, its length. No database in it, so that it can work beside one.
import { createHash } from 'node:crypto'
import { PeakBuilder } from '@nullet/core/measure/peaks'
import { interleave } from './wavFile'

/** Frames a block: about one MiB over all legs, a power of two. */
export function blockFrames(legs: number): number {
  let frames = 262144
  while (frames * legs > 262144) frames /= 2
  return frames
}

export interface Shaped {
  /** Of all samples, interleaved, f32, little-endian. */ sha256: string
  /** SHA-256 of the SHA-256 of all blocks in hex, in order: what the database can tell quickly of what it has. */
  blocksHash: string
  frames: number
  peaks: Uint8Array
}

export class BlockShaper {
  private readonly size: number
  private readonly hash = createHash('sha256')
  private readonly blocksHash = createHash('sha256')
  private readonly peaks = new PeakBuilder()
  private readonly block: Float32Array[]
  private fill = 0
  private frames = 0

  constructor(private readonly legs: number) {
    this.size = blockFrames(legs)
    this.block = Array.from({ length: legs }, () => new Float32Array(this.size))
  }

  /** Legs × n. @returns the blocks that are full by now, leg after leg */
  feed(audio: readonly Float32Array[]): Uint8Array<ArrayBuffer>[] {
    this.hash.update(interleave(audio))
    this.peaks.feed(audio)
    const n = audio[0]!.length,
      full: Uint8Array<ArrayBuffer>[] = []
    for (let at = 0; at < n;) {
      const run = Math.min(n - at, this.size - this.fill)
      this.block.forEach((leg, i) => leg.set(audio[i]!.subarray(at, at + run), this.fill))
      this.fill += run
      at += run
      if (this.fill === this.size) full.push(this.take())
    }
    this.frames += n
    return full
  }

  private take(): Uint8Array<ArrayBuffer> {
    const samples = new Float32Array(this.legs * this.fill)
    this.block.forEach((leg, i) => samples.set(leg.subarray(0, this.fill), i * this.fill))
    const bytes = new Uint8Array(samples.buffer)
    this.blocksHash.update(createHash('sha256').update(bytes).digest('hex'))
    this.fill = 0
    return bytes
  }

  /** The rest, and what is known of the whole. */
  end(): { last: Uint8Array<ArrayBuffer>[]; shaped: Shaped } {
    const last = this.fill ? [this.take()] : []
    return {
      last,
      shaped: {
        sha256: this.hash.digest('hex'),
        blocksHash: this.blocksHash.digest('hex'),
        frames: this.frames,
        peaks: new Uint8Array(this.peaks.finish().buffer)
      }
    }
  }
}

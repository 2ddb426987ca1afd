// WAV and its 64-bit form (RF64), written with dither as the last step. EBU Tech 3285 (WAVE), ITU-R BS.2088 (BW64).
import { hash32 } from '../foundation/seed'
import { layoutOf } from '../session/layouts'
import { maskOf } from '../session/speakers'

export type Depth = 16 | 24 | '32f'

const bytesOf = (legs: number, frames: number, depth: Depth) => legs * frames * (depth === '32f' ? 4 : depth / 8)

/** A chunk of odd length is followed by a byte that belongs to nothing: none or one zero. */
export const wavPadding = (legs: number, frames: number, depth: Depth): Uint8Array<ArrayBuffer> =>
  new Uint8Array(bytesOf(legs, frames, depth) % 2)

/**
 * A header for so many frames; RF64 when 32 bits do not hold the length. @param layout what the legs are, or how many
 */
export function wavHeader(
  layout: readonly string[] | number,
  sampleRate: number,
  frames: number,
  depth: Depth
): Uint8Array<ArrayBuffer> {
  const labels = typeof layout === 'number' ? layoutOf(layout) : layout,
    legs = labels.length
  const float = depth === '32f',
    bits = float ? 32 : depth
  const frame = (legs * bits) / 8
  const size = frame * frames
  const extensible = legs > 2
  const fmt = extensible ? 40 : float ? 18 : 16
  const long = size > 0xffffff00
  const length = 12 + (long ? 36 : 0) + 8 + fmt + (float ? 12 : 0) + 8
  const out = new Uint8Array(length),
    view = new DataView(out.buffer)
  let at = 0
  const text = (s: string) => {
    for (const c of s) view.setUint8(at++, c.charCodeAt(0))
  }
  const u32 = (n: number) => {
    view.setUint32(at, n, true)
    at += 4
  }
  const u16 = (n: number) => {
    view.setUint16(at, n, true)
    at += 2
  }
  const u64 = (n: number) => {
    view.setBigUint64(at, BigInt(n), true)
    at += 8
  }
  text(long ? 'RF64' : 'RIFF')
  u32(long ? 0xffffffff : length - 8 + size + (size % 2))
  text('WAVE')
  if (long) {
    text('ds64')
    u32(28)
    u64(length - 8 + size + (size % 2))
    u64(size)
    u64(frames)
    u32(0)
  }
  text('fmt ')
  u32(fmt)
  u16(extensible ? 0xfffe : float ? 3 : 1)
  u16(legs)
  u32(sampleRate)
  u32(sampleRate * frame)
  u16(frame)
  u16(bits)
  if (extensible) {
    u16(22)
    u16(bits)
    u32(maskOf(labels))
    u16(float ? 3 : 1)
    ;[0, 0, 0, 0, 0x10, 0, 0x80, 0, 0, 0xaa, 0, 0x38, 0x9b, 0x71].forEach(b => view.setUint8(at++, b))
  } else if (float) u16(0)
  // What is not plain PCM says its length in frames, too.
  if (float) {
    text('fact')
    u32(4)
    u32(Math.min(frames, 0xffffffff))
  }
  text('data')
  u32(long ? 0xffffffff : size)
  return out
}

/** 32 random bits for a sample, from its place alone (lowbias32): the same file every time. */
function scatter(x: number): number {
  x = Math.imul(x ^ (x >>> 16), 0x7feb352d)
  x = Math.imul(x ^ (x >>> 15), 0x846ca68b)
  return (x ^ (x >>> 16)) >>> 0
}

/** Legs × frames, frame after frame. */
export function interleaved(audio: readonly Float32Array[]): Float32Array<ArrayBuffer> {
  const legs = audio.length,
    out = new Float32Array(legs * audio[0].length)
  audio.forEach((leg, i) => {
    for (let n = 0, at = i; n < leg.length; n++, at += legs) out[at] = leg[n]
  })
  return out
}

/** Encodes legs × n float samples. Integers get TPDF dither of ±1 LSB, the last step there is. */
export class WavEncoder {
  clipped = 0

  private seeds: number[] = []

  /**
   * @param dither names the file: each file and each of its legs has noise of its own, or that of many files would add
   * up; null for none
   * @param frame place of the first frame in the file: dither depends on it, so that any part of a file can be encoded
   * by itself
   */
  constructor(
    private readonly depth: Depth,
    private readonly dither: string | null = null,
    private frame = 0
  ) {}

  encode(audio: readonly Float32Array[]): Uint8Array<ArrayBuffer> {
    const legs = audio.length,
      frames = audio[0].length
    if (this.depth === '32f') {
      this.frame += frames
      return new Uint8Array(interleaved(audio).buffer)
    }
    for (let leg = this.seeds.length; leg < legs && this.dither !== null; leg++)
      this.seeds.push(scatter(hash32(`dither ${this.dither}/${leg}`)))
    const width = this.depth / 8,
      scale = 2 ** (this.depth - 1)
    const out = new Uint8Array(legs * frames * width),
      view = new DataView(out.buffer)
    for (let n = 0, at = 0; n < frames; n++) {
      for (let leg = 0; leg < legs; leg++, at += width) {
        let x = audio[leg][n] * scale
        if (this.dither !== null) {
          const place = (this.frame + n) * 2,
            seed = this.seeds[leg]
          x += (scatter(scatter(place) ^ seed) - scatter(scatter(place + 1) ^ seed)) / 4294967296
        }
        let value = Math.round(x)
        if (value > scale - 1 || value < -scale) {
          this.clipped++
          value = value > 0 ? scale - 1 : -scale
        }
        if (width === 2) view.setInt16(at, value, true)
        else {
          view.setUint16(at, value & 0xffff, true)
          view.setInt8(at + 2, value >> 16)
        }
      }
    }
    this.frame += frames
    return out
  }
}

// WAV and its 64-bit form (RF64/BW64): reading piece by piece as bytes arrive, writing with dither as the last step.
// EBU Tech 3285 (WAVE), ITU-R BS.2088 (BW64).
import { Refusal } from '../foundation/refusal'
import { hash32 } from '../foundation/seed'
import { layoutOf } from '../session/layouts'
import { labelsOfMask, maskOf } from '../session/speakers'

export interface WavShape {
  legs: number
  sampleRate: number
  bits: number
  float: boolean
  frames: number | null
  /** What the file says its legs are; null where it does not. */ layout: string[] | null
}

export const MOST_LEGS = 16

const FORMATS: Record<string, true> = {
  '1/8': true,
  '1/16': true,
  '1/24': true,
  '1/32': true,
  '3/32': true,
  '3/64': true
}

type Decode = (view: DataView, at: number) => number
const decoders: Record<string, Decode> = {
  '1/8': (v, i) => (v.getUint8(i) - 128) / 128,
  '1/16': (v, i) => v.getInt16(i, true) / 32768,
  '1/24': (v, i) => ((v.getInt8(i + 2) << 16) | v.getUint16(i, true)) / 8388608,
  '1/32': (v, i) => v.getInt32(i, true) / 2147483648,
  '3/32': (v, i) => v.getFloat32(i, true),
  '3/64': (v, i) => v.getFloat64(i, true)
}

/** Feed bytes in any pieces; audio comes out as legs × frames. Refuses with the chunk and the byte offset. */
export class WavReader {
  shape: WavShape | null = null
  frames = 0
  /** Byte at which the samples start. */
  dataOffset = 0
  private kind = ''
  private step: 'riff' | 'chunk' | 'fmt ' | 'ds64' | 'skip' | 'data' | 'done' = 'riff'
  private kept: Uint8Array<ArrayBuffer> = new Uint8Array(0)
  private need = 12
  private offset = 0
  private skip = 0
  private left = 0
  private dataSize: number | null = null
  private long: { data: number } | null = null

  /** @param total length of the whole file if it is known: a header that promises more is refused at once */
  constructor(
    private readonly name: string,
    private readonly total: number | null = null
  ) {}

  private refuse(what: string): never {
    throw new Refusal('badFile', `${this.name}: ${what}`, [], 'Nothing of this file was imported.')
  }

  /** Audio decoded from these bytes, possibly none. */
  push(bytes: Uint8Array): Float32Array[] | null {
    let data = new Uint8Array(this.kept.length + bytes.length)
    data.set(this.kept)
    data.set(bytes, this.kept.length)
    let out: Float32Array[] | null = null
    for (;;) {
      if (this.step === 'skip') {
        const n = Math.min(this.skip, data.length)
        data = this.advance(data, n)
        this.skip -= n
        if (this.skip > 0) break
        this.step = 'chunk'
        this.need = 8
      } else if (this.step === 'data') {
        const [audio, rest] = this.samples(data)
        if (audio) out = out ? join(out, audio) : audio
        data = rest
        if (this.left > 0 || this.dataSize === null) break
        this.step = 'done'
      } else if (this.step === 'done') {
        data = new Uint8Array(0)
        break
      } else {
        if (data.length < this.need) break
        const block = new DataView(data.buffer, data.byteOffset, this.need)
        data = this.advance(data, this.need)
        this.header(block)
      }
    }
    this.kept = data.slice()
    return out
  }

  /** To be called when no more bytes come. */
  end(): WavShape {
    if (this.step === 'riff')
      this.refuse(
        this.offset + this.kept.length === 0 ? 'the file is empty' : 'not a WAV file: it ends before its first chunk'
      )
    if (!this.shape) this.refuse(`no “fmt ” chunk was found up to byte ${this.offset}`)
    if (!this.dataOffset) this.refuse(`no “data” chunk was found up to byte ${this.offset}`)
    if (this.step === 'data' && this.dataSize !== null && this.left > 0) {
      this.refuse(
        `the “data” chunk at byte ${this.dataOffset} announces ${this.dataSize} bytes and ends after ${this.dataSize - this.left + this.kept.length}`
      )
    }
    if (this.frames === 0) this.refuse('it holds no samples')
    return { ...this.shape, frames: this.frames }
  }

  private advance(data: Uint8Array<ArrayBuffer>, n: number): Uint8Array<ArrayBuffer> {
    this.offset += n
    return data.subarray(n)
  }

  private header(block: DataView): void {
    const text = (at: number) => String.fromCharCode(...[0, 1, 2, 3].map(i => block.getUint8(at + i)))
    if (this.step === 'riff') {
      if (!['RIFF', 'RF64', 'BW64'].includes(text(0)) || text(8) !== 'WAVE')
        this.refuse('not a WAV file: it does not start with a RIFF, RF64 or BW64 header')
      this.step = 'chunk'
      this.need = 8
    } else if (this.step === 'chunk') {
      const id = text(0),
        size = block.getUint32(4, true)
      if (id === 'fmt ' || id === 'ds64') {
        const least = id === 'fmt ' ? 16 : 24
        if (size < least || size > 65536)
          this.refuse(`the “${id}” chunk at byte ${this.offset - 8} has an impossible length of ${size}`)
        this.step = id
        this.need = size + (size % 2)
      } else if (id === 'data') this.startData(size)
      else {
        this.step = 'skip'
        this.skip = size + (size % 2)
      }
    } else if (this.step === 'ds64') {
      this.long = { data: Number(block.getBigUint64(8, true)) }
      this.step = 'chunk'
      this.need = 8
    } else {
      const tag = block.getUint16(0, true)
      const format = tag === 0xfffe && block.byteLength >= 40 ? block.getUint16(24, true) : tag
      const legs = block.getUint16(2, true),
        sampleRate = block.getUint32(4, true),
        bits = block.getUint16(14, true)
      this.kind = `${format}/${bits}`
      if (!FORMATS[this.kind])
        this.refuse(`its samples are in a form that is not read here (format ${format}, ${bits} bits)`)
      if (legs < 1) this.refuse('it has no legs')
      if (sampleRate < 8000 || sampleRate > 384000)
        this.refuse(`a sample rate of ${sampleRate} Hz is outside 8 to 384 kHz`)
      const mask = tag === 0xfffe && block.byteLength >= 40 ? block.getUint32(20, true) : 0
      this.shape = { legs, sampleRate, bits, float: format === 3, frames: null, layout: labelsOfMask(mask, legs) }
      this.step = 'chunk'
      this.need = 8
    }
  }

  private startData(size: number): void {
    if (!this.shape) this.refuse(`the “data” chunk at byte ${this.offset - 8} comes before any “fmt ” chunk`)
    const real = size === 0xffffffff ? (this.long?.data ?? null) : size
    // Recorders that were never told the length leave 0 or all ones: then the file goes to its end.
    this.dataSize = real === 0 && (this.total === null || this.total > this.offset) ? null : real
    this.left = this.dataSize ?? Infinity
    this.dataOffset = this.offset
    if (this.dataSize !== null && this.total !== null && this.offset + this.dataSize > this.total) {
      this.refuse(
        `the “data” chunk at byte ${this.offset - 8} announces ${this.dataSize} bytes, the file has ${Math.max(0, this.total - this.offset)} after it`
      )
    }
    const frame = (this.shape.legs * this.shape.bits) / 8
    this.shape.frames = this.dataSize === null ? null : Math.floor(this.dataSize / frame)
    this.step = 'data'
  }

  private samples(data: Uint8Array<ArrayBuffer>): [Float32Array[] | null, Uint8Array<ArrayBuffer>] {
    const { legs, bits } = this.shape!
    const width = bits / 8,
      frame = legs * width
    const usable = Math.min(data.length, this.left)
    const count = Math.floor(usable / frame)
    if (!count) {
      if (this.left < frame) {
        this.left = 0
        return [null, data]
      }
      return [null, data]
    }
    const view = new DataView(data.buffer, data.byteOffset, count * frame)
    const decode = decoders[this.kind]
    const out = Array.from({ length: legs }, () => new Float32Array(count))
    out.forEach((audio, leg) => {
      for (let n = 0, at = leg * width; n < count; n++, at += frame) {
        const x = (audio[n] = decode(view, at))
        if (!(x - x === 0)) this.refuse(`the sample at frame ${this.frames + n} of leg ${leg + 1} is not a number`)
      }
    })
    this.frames += count
    this.left -= count * frame
    return [out, this.advance(data, count * frame)]
  }
}

function join(a: Float32Array[], b: Float32Array[]): Float32Array[] {
  return a.map((leg, i) => {
    const both = new Float32Array(leg.length + b[i].length)
    both.set(leg)
    both.set(b[i], leg.length)
    return both
  })
}

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
      const out = new Float32Array(legs * frames)
      for (let n = 0, at = 0; n < frames; n++) for (let leg = 0; leg < legs; leg++) out[at++] = audio[leg][n]
      this.frame += frames
      return new Uint8Array(out.buffer)
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

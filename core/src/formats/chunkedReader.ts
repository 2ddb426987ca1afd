// A sound file made of chunks (RIFF, IFF), read piece by piece as bytes arrive. What differs between formats is in the
// classes that extend this: how it begins, which chunks are looked into, what they say.
import { Refusal } from '../foundation/refusal'
import type { SampleKind } from './samples'
import { rateFault, type Said, type SoundReader, type SoundShape } from './soundFile'

/** Longest chunk that is looked into, bytes. */
const LONGEST = 65536
const HEADER = 12,
  CHUNK_HEADER = 8

export abstract class ChunkedReader implements SoundReader {
  shape: SoundShape | null = null
  readonly said: Said = { timeReference: null, title: '' }
  frames = 0
  /** Byte at which the samples start. */
  dataOffset = 0
  protected offset = 0
  protected kind: SampleKind | null = null
  private step: 'opening' | 'chunk' | 'collect' | 'skip' | 'data' | 'done' = 'opening'
  private kept: Uint8Array<ArrayBuffer> = new Uint8Array(0)
  private need = HEADER
  private collecting = ''
  private skip = 0
  private left = 0
  private dataSize: number | null = null

  /**
   * @param format its name in messages
   * @param total length of the whole file if it is known: a header that promises more is refused at once
   */
  protected constructor(
    protected readonly format: string,
    /** What the chunks are called that describe and that hold the samples. */
    private readonly chunkNames: { shape: string; samples: string },
    private readonly little: boolean,
    private readonly name: string,
    protected readonly total: number | null
  ) {}

  /** The first twelve bytes. */
  protected abstract open(block: DataView): void
  /** A chunk begins: bytes of it to look into, or null to pass it by. The chunk of the samples calls `startData`. */
  protected abstract begin(id: string, size: number): number | null
  protected abstract look(id: string, block: DataView): void

  protected refuse(what: string): never {
    throw new Refusal('badFile', `${this.name}: ${what}`, [], 'Nothing of this file was imported.')
  }
  protected idAt(block: DataView, at: number): string {
    return String.fromCharCode(...[0, 1, 2, 3].map(i => block.getUint8(at + i)))
  }

  /** Audio decoded from these bytes, possibly none. */
  push(bytes: Uint8Array): Float32Array[] | null {
    let data = new Uint8Array(this.kept.length + bytes.length)
    data.set(this.kept)
    data.set(bytes, this.kept.length)
    let out: Float32Array[] | null = null
    for (;;) {
      if (this.step === 'done') {
        data = new Uint8Array(0)
        break
      }
      if (this.step === 'skip') {
        const n = Math.min(this.skip, data.length)
        data = this.advance(data, n)
        this.skip -= n
        if (this.skip > 0) break
        this.nextChunk()
      } else if (this.step === 'data') {
        const [audio, rest] = this.samples(data)
        if (audio) out = out ? join(out, audio) : audio
        data = rest
        if (this.left > 0 || this.dataSize === null) break
        this.pass(this.dataSize % 2)
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

  end(): SoundShape {
    const { shape, samples } = this.chunkNames
    if (this.step === 'opening')
      this.refuse(
        this.offset + this.kept.length === 0
          ? 'the file is empty'
          : `not ${this.format}: it ends before its first chunk`
      )
    if (!this.shape) this.refuse(`no “${shape}” chunk was found up to byte ${this.offset}`)
    if (!this.dataOffset) this.refuse(`no “${samples}” chunk was found up to byte ${this.offset}`)
    if (this.step === 'data' && this.dataSize !== null && this.left > 0) {
      this.refuse(
        `the “${samples}” chunk at byte ${this.dataOffset} announces ${this.dataSize} bytes and ends after ${this.dataSize - this.left + this.kept.length}`
      )
    }
    if (this.frames === 0) this.refuse('it holds no samples')
    return { ...this.shape, frames: this.frames }
  }

  protected takeShape(shape: SoundShape, kind: SampleKind): void {
    if (shape.legs < 1) this.refuse('it has no legs')
    const fault = rateFault(shape.sampleRate)
    if (fault) this.refuse(fault)
    this.shape = shape
    this.kind = kind
  }

  /** @param size bytes of samples from here on; null to the end of the file */
  protected startData(size: number | null): void {
    const { shape, samples } = this.chunkNames
    if (!this.shape || !this.kind)
      this.refuse(`the “${samples}” chunk at byte ${this.offset - CHUNK_HEADER} comes before any “${shape}” chunk`)
    this.dataSize = size
    this.left = size ?? Infinity
    this.dataOffset = this.offset
    if (size !== null && this.total !== null && this.offset + size > this.total) {
      this.refuse(
        `the “${samples}” chunk at byte ${this.offset - CHUNK_HEADER} announces ${size} bytes, the file has ${Math.max(0, this.total - this.offset)} after it`
      )
    }
    this.shape.frames = size === null ? null : Math.floor(size / (this.shape.legs * this.kind.bytes))
    this.step = 'data'
  }
  /** Passes bytes by, then looks for the next chunk. */
  protected pass(bytes: number): void {
    this.step = 'skip'
    this.skip = bytes
  }

  private nextChunk(): void {
    this.step = 'chunk'
    this.need = CHUNK_HEADER
  }
  private advance(data: Uint8Array<ArrayBuffer>, n: number): Uint8Array<ArrayBuffer> {
    this.offset += n
    return data.subarray(n)
  }

  private header(block: DataView): void {
    if (this.step === 'opening') {
      this.open(block)
      this.nextChunk()
      return
    }
    if (this.step === 'collect') {
      // Where a chunk is looked into in part, what is left of it is passed by.
      this.pass(this.skip)
      this.look(this.collecting, block)
      return
    }
    const id = this.idAt(block, 0),
      size = block.getUint32(4, this.little)
    if (this.dataOffset && size > LONGEST) {
      // Behind the samples lie names and pictures; nothing there is worth refusing a file for.
      this.step = 'done'
      return
    }
    const wanted = this.begin(id, size)
    if (wanted === null) {
      if ((this.step as string) !== 'data') this.pass(size + (size % 2))
      return
    }
    if (wanted > LONGEST)
      this.refuse(`the “${id}” chunk at byte ${this.offset - 8} has an impossible length of ${size}`)
    this.step = 'collect'
    this.collecting = id
    this.need = wanted
    this.skip = size + (size % 2) - wanted
  }

  private samples(data: Uint8Array<ArrayBuffer>): [Float32Array[] | null, Uint8Array<ArrayBuffer>] {
    const frame = this.shape!.legs * this.kind!.bytes
    const count = Math.floor(Math.min(data.length, this.left) / frame)
    const audio = count ? this.decoded(data, count) : null
    this.frames += count
    this.left -= count * frame
    let rest = this.advance(data, count * frame)
    // A part of a frame at the end of the samples is no sound.
    if (this.left < frame && rest.length >= this.left) {
      rest = this.advance(rest, this.left)
      this.left = 0
    }
    return [audio, rest]
  }

  /** Legs × `count`. */
  private decoded(data: Uint8Array, count: number): Float32Array[] {
    const { legs } = this.shape!,
      { bytes, float, decode } = this.kind!
    const view = new DataView(data.buffer, data.byteOffset, count * legs * bytes)
    return Array.from({ length: legs }, (_, leg) => {
      const audio = new Float32Array(count)
      decode(view, leg * bytes, legs * bytes, audio)
      if (float) this.refuseOdd(audio, leg)
      return audio
    })
  }

  private refuseOdd(audio: Float32Array, leg: number): void {
    for (let n = 0; n < audio.length; n++) {
      const x = audio[n]
      if (!(x - x === 0)) this.refuse(`the sample at frame ${this.frames + n} of leg ${leg + 1} is not a number`)
    }
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

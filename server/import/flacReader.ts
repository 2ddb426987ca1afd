// FLAC as bytes arrive, decoded by libFLAC in WebAssembly (libflacjs). It asks for bytes when it wants them: a frame is
// asked for only when it must be here already.
import { createRequire } from 'node:module'
import type * as Flac from 'libflacjs/dist/libflac.wasm.js'
import { Refusal } from '@nullet/core/foundation/refusal'
import { flacHead, type FlacHead } from '@nullet/core/formats/flacHead'
import { rateFault, type Said, type SoundReader, type SoundShape } from '@nullet/core/formats/soundFile'

type Library = typeof Flac

/** Its loader takes `fetch` for a browser's. */
async function load(): Promise<Library> {
  const { fetch } = globalThis
  Reflect.deleteProperty(globalThis, 'fetch')
  try {
    const library = createRequire(import.meta.url)('libflacjs')('release.wasm') as Library
    if (!library.isReady()) await new Promise<void>(done => library.on('ready', () => done()))
    return library
  } finally {
    globalThis.fetch = fetch
  }
}
let library: Library | null = null
let loading: Promise<unknown> | null = null
/** To be awaited once before the first FLAC file. */
export const flacReady = (): Promise<unknown> =>
  (loading ??= load().then(made => {
    library = made
  }))

/** Of a frame whose length the file does not say: 65,535 samples of eight legs of 32 bits, not compressed. */
const LONGEST_FRAME = 65_535 * 8 * 4 + 1024
/** What libFLAC reads at once. */
const READ_AHEAD = 1 << 15
const HEAD_MOST = 1 << 24

export class FlacReader implements SoundReader {
  private head: FlacHead | null = null
  private readonly bytes: Uint8Array[] = []
  private length = 0
  private ended = false
  private decoder = 0
  private fault = ''
  private frames = 0
  private decoded: Float32Array[][] = []

  constructor(private readonly name: string) {}

  get shape(): SoundShape | null {
    return this.head?.shape ?? null
  }
  get said(): Said {
    return this.head?.said ?? { timeReference: null, title: '' }
  }

  push(bytes: Uint8Array): Float32Array[] | null {
    this.bytes.push(bytes.slice())
    this.length += bytes.length
    if (!this.head && !this.open()) return null
    const enough = (this.head!.longestFrame || LONGEST_FRAME) + READ_AHEAD
    while (this.length > enough) this.step()
    return this.taken()
  }

  end(): SoundShape {
    if (!this.head) this.refuse(this.length ? 'it ends within its head' : 'the file is empty')
    this.close()
    const { shape } = this.head
    if (!this.frames) this.refuse('it holds no samples')
    if (shape.frames !== null && this.frames !== shape.frames)
      this.refuse(`it announces ${shape.frames} samples a leg and ends after ${this.frames}`)
    return { ...shape, frames: this.frames }
  }

  rest(): Float32Array[] | null {
    if (!this.head) return null
    this.ended = true
    while (this.step());
    return this.taken()
  }

  close(): void {
    if (this.decoder) library!.FLAC__stream_decoder_delete(this.decoder)
    this.decoder = 0
  }

  private refuse(what: string): never {
    this.close()
    throw new Refusal('badFile', `${this.name}: ${what}`, [], 'Nothing of this file was imported.')
  }

  private open(): boolean {
    const head = flacHead(this.together())
    if (head === undefined) this.refuse('not a FLAC file: it says nothing about its samples')
    if (head === null) {
      if (this.length > HEAD_MOST) this.refuse('its head has no end')
      return false
    }
    const fault = rateFault(head.shape.sampleRate)
    if (fault) this.refuse(fault)
    this.head = head
    const flac = library!
    this.decoder = flac.create_libflac_decoder(true)
    const status = flac.init_decoder_stream(
      this.decoder,
      wanted => this.read(wanted),
      (legs, { bitsPerSample }) => this.take(legs, bitsPerSample),
      (code, what) => {
        this.fault ||= `${what ?? code}`
      }
    )
    if (status !== 0) this.refuse('its decoder does not start')
    return true
  }

  private together(): Uint8Array {
    if (this.bytes.length > 1) {
      const all = new Uint8Array(this.length)
      let at = 0
      for (const b of this.bytes.splice(0)) {
        all.set(b, at)
        at += b.length
      }
      this.bytes.push(all)
    }
    return this.bytes[0] ?? new Uint8Array(0)
  }

  private read(wanted: number) {
    const first = this.bytes[0]
    if (!first) return { buffer: new Uint8Array(0), readDataLength: 0, error: false }
    const part = first.slice(0, wanted)
    if (part.length === first.length) this.bytes.shift()
    else this.bytes[0] = first.subarray(part.length)
    this.length -= part.length
    return { buffer: part, readDataLength: part.length, error: false }
  }

  /** Samples as integers of two or four bytes, a leg each. */
  private take(legs: Uint8Array[], bits: number): void {
    const scale = 1 / 2 ** (bits - 1)
    const Words = bits <= 16 ? Int16Array : Int32Array
    const audio = legs.map(leg => {
      const whole = new Words(leg.buffer as ArrayBuffer, leg.byteOffset, leg.byteLength / Words.BYTES_PER_ELEMENT)
      return Float32Array.from(whole, x => x * scale)
    })
    this.frames += audio[0]!.length
    this.decoded.push(audio)
  }

  /** One frame, or the end. */
  private step(): boolean {
    const flac = library!
    const went = flac.FLAC__stream_decoder_process_single(this.decoder)
    if (this.fault || !went)
      this.refuse(`it is broken after ${this.frames} samples (${this.fault || 'no frame found'})`)
    // 4: the end of the stream was reached.
    return flac.FLAC__stream_decoder_get_state(this.decoder) !== 4 && (this.length > 0 || this.ended)
  }

  private taken(): Float32Array[] | null {
    const [first, ...more] = this.decoded
    this.decoded = []
    if (!first || !more.length) return first ?? null
    return first.map((_, leg) => {
      const parts = [first, ...more].map(p => p[leg]!)
      const all = new Float32Array(parts.reduce((n, p) => n + p.length, 0))
      let at = 0
      for (const p of parts) {
        all.set(p, at)
        at += p.length
      }
      return all
    })
  }
}

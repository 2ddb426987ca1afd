// WAV and its 64-bit forms (RF64, BW64). EBU Tech 3285 (WAVE, with the “bext” chunk), ITU-R BS.2088 (BW64).
import { labelsOfMask } from '../session/speakers'
import { ChunkedReader } from './chunkedReader'
import { SAMPLE_KINDS } from './samples'
import { textIn } from './soundFile'

/** By format and bits. */
const KINDS: Record<string, keyof typeof SAMPLE_KINDS> = {
  '1/8': 'u8',
  '1/16': 'i16le',
  '1/24': 'i24le',
  '1/32': 'i32le',
  '3/32': 'f32le',
  '3/64': 'f64le'
}
/** Least and most bytes of the chunks that are looked into. */
const LOOKED_INTO: Record<string, [least: number, most: number]> = {
  'fmt ': [16, Infinity],
  ds64: [24, Infinity],
  bext: [346, 346],
  LIST: [4, 4096]
}
/** Where they stand in a “bext” chunk. */
const TIME_LOW = 338,
  TIME_HIGH = 342

/** Feed bytes in any pieces; audio comes out as legs × frames. Refuses with the chunk and the byte offset. */
export class WavReader extends ChunkedReader {
  private long: number | null = null

  constructor(name: string, total: number | null = null) {
    super('a WAV file', { shape: 'fmt ', samples: 'data' }, true, name, total)
  }

  protected open(block: DataView): void {
    if (!['RIFF', 'RF64', 'BW64'].includes(this.idAt(block, 0)) || this.idAt(block, 8) !== 'WAVE')
      this.refuse('not a WAV file: it does not start with a RIFF, RF64 or BW64 header')
  }

  protected begin(id: string, size: number): number | null {
    if (id === 'data' && !this.dataOffset) {
      const real = size === 0xffffffff ? this.long : size
      // Recorders that were never told the length leave 0 or all ones: then the file goes to its end.
      this.startData(real === 0 && (this.total === null || this.total > this.offset) ? null : real)
      return null
    }
    const bounds = LOOKED_INTO[id]
    if (!bounds) return null
    const needed = id === 'fmt ' || id === 'ds64'
    if (size < bounds[0]) {
      if (!needed) return null
      this.refuse(`the “${id}” chunk at byte ${this.offset - 8} has an impossible length of ${size}`)
    }
    return Math.min(needed ? size + (size % 2) : size, bounds[1])
  }

  protected look(id: string, block: DataView): void {
    if (id === 'ds64') this.long = Number(block.getBigUint64(8, true))
    else if (id === 'bext') {
      const since = block.getUint32(TIME_LOW, true) + block.getUint32(TIME_HIGH, true) * 2 ** 32
      if (since > 0) this.said.timeReference = since
    } else if (id === 'LIST') this.names(block)
    else if (!this.shape) this.describe(block)
  }

  /** The title among the texts of a file. */
  private names(block: DataView): void {
    if (this.idAt(block, 0) !== 'INFO') return
    for (let at = 4; at + 8 <= block.byteLength;) {
      const size = block.getUint32(at + 4, true)
      if (this.idAt(block, at) === 'INAM') this.said.title = textIn(block, at + 8, size)
      at += 8 + size + (size % 2)
    }
  }

  private describe(block: DataView): void {
    const tag = block.getUint16(0, true)
    const extensible = tag === 0xfffe && block.byteLength >= 40
    const format = extensible ? block.getUint16(24, true) : tag
    const legs = block.getUint16(2, true),
      sampleRate = block.getUint32(4, true),
      bits = block.getUint16(14, true)
    const kind = SAMPLE_KINDS[KINDS[`${format}/${bits}`] ?? '']
    if (!kind) this.refuse(`its samples are in a form that is not read here (format ${format}, ${bits} bits)`)
    const layout = labelsOfMask(extensible ? block.getUint32(20, true) : 0, legs)
    this.takeShape({ legs, sampleRate, bits, float: format === 3, frames: null, layout }, kind)
  }
}

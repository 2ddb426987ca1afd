// AIFF and AIFC (AIFF-C): Audio Interchange File Format 1.3 (1989) and AIFF-C draft (1991). Numbers are big-endian.
import { ChunkedReader } from './chunkedReader'
import { SAMPLE_KINDS } from './samples'
import { textIn } from './soundFile'

/** By what AIFC calls its samples; bits come from the chunk where the name says none. */
const KINDS: Record<string, (bytes: number) => string> = {
  NONE: bytes => (bytes === 1 ? 'i8' : `i${bytes * 8}be`),
  twos: bytes => (bytes === 1 ? 'i8' : `i${bytes * 8}be`),
  sowt: bytes => (bytes === 1 ? 'i8' : `i${bytes * 8}le`),
  in24: () => 'i24be',
  in32: () => 'i32be',
  fl32: () => 'f32be',
  FL32: () => 'f32be',
  fl64: () => 'f64be',
  FL64: () => 'f64be'
}
/** Bytes of the chunk that describes: as in AIFF, and with the name of the samples. */
const PLAIN = 18,
  NAMED = 22
const LONGEST_NAME = 1024

/** An 80-bit number of IEEE 754: sign and exponent, then 64 bits of a fraction whose first is not hidden. */
function extended(block: DataView, at: number): number {
  const exponent = block.getUint16(at) & 0x7fff
  const fraction = block.getUint32(at + 2) * 2 ** 32 + block.getUint32(at + 6)
  return fraction * 2 ** (exponent - 16383 - 63)
}

export class AiffReader extends ChunkedReader {
  private compressed = false
  private size = 0

  constructor(name: string, total: number | null = null) {
    super('an AIFF file', { shape: 'COMM', samples: 'SSND' }, false, name, total)
  }

  protected open(block: DataView): void {
    const form = this.idAt(block, 8)
    if (this.idAt(block, 0) !== 'FORM' || (form !== 'AIFF' && form !== 'AIFC'))
      this.refuse('not an AIFF file: it does not start with a FORM header of AIFF or AIFC')
    this.compressed = form === 'AIFC'
  }

  protected begin(id: string, size: number): number | null {
    if (id === 'COMM') {
      const least = this.compressed ? NAMED : PLAIN
      if (size < least) this.refuse(`the “COMM” chunk at byte ${this.offset - 8} has an impossible length of ${size}`)
      return least
    }
    if (id === 'SSND' && !this.dataOffset) {
      if (size < 8) this.refuse(`the “SSND” chunk at byte ${this.offset - 8} has an impossible length of ${size}`)
      this.size = size
      return 8
    }
    return id === 'NAME' && size > 0 ? Math.min(size, LONGEST_NAME) : null
  }

  protected look(id: string, block: DataView): void {
    if (id === 'NAME') this.said.title = textIn(block)
    else if (id === 'COMM') this.describe(block)
    else {
      // Samples may begin later in their chunk; nobody does it.
      const later = block.getUint32(0)
      if (later) this.refuse(`its samples begin ${later} bytes later than usual, which is not read here`)
      this.startData(this.size - 8)
    }
  }

  private describe(block: DataView): void {
    const legs = block.getUint16(0),
      bits = block.getUint16(6),
      sampleRate = Math.round(extended(block, 8))
    const name = this.compressed ? this.idAt(block, PLAIN) : 'NONE'
    const called = KINDS[name]?.(Math.ceil(bits / 8)) ?? ''
    const kind = SAMPLE_KINDS[called]
    if (!kind) this.refuse(`its samples are in a form that is not read here (“${name}”, ${bits} bits)`)
    this.takeShape({ legs, sampleRate, bits: kind.bytes * 8, float: kind.float, frames: null, layout: null }, kind)
  }
}

// The reader that a sound file needs, by its first bytes; not by what it is called.
import { Refusal } from '../foundation/refusal'
import { AiffReader } from './aiffReader'
import type { Said, SoundReader, SoundShape } from './soundFile'
import { WavReader } from './wavReader'

type Make = (name: string, total: number | null) => SoundReader
const AIFF: Make = (name, total) => new AiffReader(name, total)
const WAV: Make = (name, total) => new WavReader(name, total)

/** Begins by these, and is read by this. */
const BEGINNINGS: Record<string, Make> = { RIFF: WAV, RF64: WAV, BW64: WAV, FORM: AIFF }
const NOTHING: Said = { timeReference: null, title: '' }

/** @param more readers that need more than this core has, by the four letters that their files begin with */
export class AnyReader implements SoundReader {
  private reader: SoundReader | null = null
  private kept: Uint8Array = new Uint8Array(0)

  constructor(
    private readonly name: string,
    private readonly total: number | null = null,
    private readonly more: Readonly<Record<string, Make>> = {}
  ) {}

  get shape(): SoundShape | null {
    return this.reader?.shape ?? null
  }
  get said(): Said {
    return this.reader?.said ?? NOTHING
  }

  push(bytes: Uint8Array): Float32Array[] | null {
    if (this.reader) return this.reader.push(bytes)
    const both = new Uint8Array(this.kept.length + bytes.length)
    both.set(this.kept)
    both.set(bytes, this.kept.length)
    this.kept = both
    if (both.length < 4) return null
    const make = { ...BEGINNINGS, ...this.more }[String.fromCharCode(...both.subarray(0, 4))]
    if (!make) this.refuse('it is neither WAV, RF64, AIFF nor FLAC')
    this.reader = make(this.name, this.total)
    return this.reader.push(both)
  }

  rest(): Float32Array[] | null {
    return this.reader?.rest?.() ?? null
  }
  close(): void {
    this.reader?.close?.()
  }

  end(): SoundShape {
    if (this.reader) return this.reader.end()
    return this.refuse(this.kept.length ? 'it is neither WAV, RF64, AIFF nor FLAC' : 'the file is empty')
  }

  private refuse(what: string): never {
    throw new Refusal('badFile', `${this.name}: ${what}`, [], 'Nothing of this file was imported.')
  }
}

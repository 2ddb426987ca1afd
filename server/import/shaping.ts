// A file that comes in, cut into blocks: parsed, checked, converted where the rate differs, measured. All of an import
// that costs time and needs no database; it runs in a thread of its own (shapingThread.ts).
import { AnyReader } from '@nullet/core/formats/anyReader'
import { MOST_LEGS } from '@nullet/core/formats/soundFile'
import { Refusal } from '@nullet/core/foundation/refusal'
import { Resampler } from '@nullet/core/run/resampler'
import { layoutOf } from '@nullet/core/session/layouts'
import { BlockShaper, type Shaped } from '../../host/blocks'
import { Levels } from '../../host/levels'
import { FlacReader } from './flacReader'

export interface ShapingOptions {
  name: string
  /** Bytes, where they are known before. */ total: number | null
  /** Hz. */ wantedRate: number
  /** One medium a leg instead of one for all. */ split: boolean
}
/** The next block of a medium, media counted from 0. */
export interface ShapedBlock {
  medium: number
  legs: number
  bytes: Uint8Array<ArrayBuffer>
}
export interface MadeMedium extends Shaped {
  layout: string[]
  originalRate: number | null
  title: string
  /** Frames since midnight, at the wanted rate. */ timeReference: number | null
  peakDb: number | null
  loudnessLufs: number | null
}

interface Line {
  legs: number[]
  layout: string[]
  resampler: Resampler | null
  shaper: BlockShaper
  levels: Levels
}

export class Shaping {
  private readonly reader: AnyReader
  private lines: Line[] | null = null

  constructor(private readonly options: ShapingOptions) {
    this.reader = new AnyReader(options.name, options.total, { fLaC: name => new FlacReader(name) })
  }

  /** @throws Refusal for what is not a sound file */
  push(bytes: Uint8Array): ShapedBlock[] {
    return this.feed(this.reader.push(bytes))
  }

  /** A file that is given up: what its reader holds goes. */
  close(): void {
    this.reader.close()
  }

  private feed(audio: Float32Array[] | null): ShapedBlock[] {
    if (!audio) return []
    this.lines ??= this.open()
    return this.lines.flatMap((line, medium) => {
      const own = line.legs.map(leg => audio[leg]!)
      return blocksOf(line, medium, line.resampler ? line.resampler.feed(own) : own)
    })
  }

  /** @throws Refusal where the file ends before its samples do, or has none */
  end(): { blocks: ShapedBlock[]; made: MadeMedium[] } {
    const { name, wantedRate } = this.options
    const blocks = this.feed(this.reader.rest())
    this.reader.end()
    if (!this.lines)
      throw new Refusal('badFile', `${name}: it holds no samples`, [], 'Nothing of this file was imported.')
    const rate = this.reader.shape!.sampleRate
    const { title, timeReference } = this.reader.said
    const made = this.lines.map((line, medium): MadeMedium => {
      if (line.resampler) blocks.push(...blocksOf(line, medium, line.resampler.end()))
      const { last, shaped } = line.shaper.end()
      blocks.push(...last.map(bytes => ({ medium, legs: line.legs.length, bytes })))
      return {
        ...shaped,
        layout: line.layout,
        originalRate: rate === wantedRate ? null : rate,
        title,
        timeReference: timeReference && Math.round((timeReference * wantedRate) / rate),
        ...line.levels.read()
      }
    })
    return { blocks, made }
  }

  private open(): Line[] {
    const { name, wantedRate, split } = this.options
    const { legs, layout, sampleRate } = this.reader.shape!
    if (!split && legs > MOST_LEGS)
      throw new Refusal(
        'layout',
        `${name} has ${legs} legs; a track takes at most ${MOST_LEGS}. It can be brought in as ${legs} mono tracks.`,
        [],
        'Nothing of this file was imported.'
      )
    const all = Array.from({ length: legs }, (_, i) => i)
    return (split ? all.map(i => [i]) : [all]).map(own => {
      const names = split ? layoutOf(1) : (layout ?? layoutOf(legs))
      return {
        legs: own,
        layout: names,
        resampler: sampleRate === wantedRate ? null : new Resampler(own.length, sampleRate, wantedRate),
        shaper: new BlockShaper(own.length),
        levels: new Levels(names, wantedRate)
      }
    })
  }
}

function blocksOf({ legs, shaper, levels }: Line, medium: number, audio: Float32Array[]): ShapedBlock[] {
  if (!audio[0]!.length) return []
  levels.feed(audio)
  return shaper.feed(audio).map(bytes => ({ medium, legs: legs.length, bytes }))
}

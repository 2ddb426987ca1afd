// Bars of a print that are run again: what was kept passes into what is new over a seam on either side, and what both
// are in the seams is compared.
import { NullMeter, type Residual } from '../measure/null'

export interface Span {
  /** Frames of source time. */
  from: number
  frames: number
}

/** So long what was kept passes into what is new. */
export const SEAM_S = 0.01

export class Seams {
  private readonly meter = new NullMeter()

  /** @param parts in order, apart from each other, seams and all · @param range of the print: at its ends is no seam */
  constructor(
    private readonly parts: readonly Span[],
    private readonly seam: number,
    private readonly range: Span
  ) {}

  /** Is any of these frames run again? */
  touches(from: number, frames: number): boolean {
    return this.parts.some(p => p.from < from + frames && from < p.from + p.frames)
  }

  /**
   * @param kept legs × n as they were printed · @param fresh legs × n as they are now
   * @param at frame of source time of their first
   * @returns legs × n: what was kept, to the bit, outside of the parts
   */
  join(kept: readonly Float32Array[], fresh: readonly Float32Array[], at: number): Float32Array[] {
    const out = kept.map(leg => leg.slice())
    const frames = kept[0]?.length ?? 0
    for (const part of this.parts) {
      const begin = Math.max(part.from, at),
        end = Math.min(part.from + part.frames, at + frames)
      if (begin >= end) continue
      const rise = part.from > this.range.from,
        fall = part.from + part.frames < this.range.from + this.range.frames
      out.forEach((leg, i) => {
        for (let n = begin; n < end; n++) {
          const share = Math.min(
            1,
            rise ? (n - part.from + 1) / (this.seam + 1) : 1,
            fall ? (part.from + part.frames - n) / (this.seam + 1) : 1
          )
          const was = leg[n - at]!,
            is = fresh[i]![n - at]!
          // The sum of two equal shares is not always the same to the bit.
          leg[n - at] = share === 1 ? is : was + (is - was) * share
        }
      })
      if (rise) this.compare(kept, fresh, at, part.from)
      if (fall) this.compare(kept, fresh, at, part.from + part.frames - this.seam)
    }
    return out
  }

  private compare(kept: readonly Float32Array[], fresh: readonly Float32Array[], at: number, from: number): void {
    const begin = Math.max(0, from - at),
      end = Math.min(kept[0]!.length, from + this.seam - at)
    if (begin >= end) return
    this.meter.feed(
      kept.map(leg => leg.subarray(begin, end)),
      fresh.map(leg => leg.subarray(begin, end))
    )
  }

  /** What is apart in the seams, and how loud they are. */
  read(): Residual {
    return this.meter.read()
  }
}

/** What is said of the seams. */
export function seamText({ rmsDb, signalDb }: Residual): string {
  if (rmsDb === -Infinity) return 'the seams are identical'
  const apart = rmsDb - Math.max(signalDb, -120)
  return `the seams are ${apart.toFixed(1)} dB apart${apart > -40 ? ', which can be heard' : ''}`
}

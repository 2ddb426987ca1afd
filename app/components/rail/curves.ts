// Output level over input level, in dB, of processors that have such a curve; and which show their gain over time.
import { staticCurve } from '@nullet/core/processors/compressor'
import type { Params } from '@nullet/core/session/rows'

export interface Curve {
  out(inputDb: number, p: Params): number
  /** Where something begins, in dB of input. */ mark?(p: Params): number
}

const bend = (v: number) => v / Math.sqrt(1 + v * v)

export const CURVES: Record<string, Curve> = {
  compressor: { out: staticCurve, mark: p => p.thresholdDb as number },
  gate: {
    out: (db, p) => (db < (p.thresholdDb as number) ? db - (p.rangeDb as number) : db),
    mark: p => p.thresholdDb as number
  },
  limiter: {
    out: (db, p) => Math.min(db + (p.driveDb as number), p.ceilingDb as number),
    mark: p => (p.ceilingDb as number) - (p.driveDb as number)
  },
  saturation: {
    out: (db, p) => {
      const drive = 10 ** ((p.driveDb as number) / 20)
      return 20 * Math.log10(bend(drive * 10 ** (db / 20)) / drive) + (p.outputDb as number)
    }
  }
}

/** Make-up is no reduction: it is taken off what is shown. */
export const makeupOf = (p: Params): number => (typeof p.makeupDb === 'number' ? p.makeupDb : 0)

const REDUCING = new Set(['compressor', 'gate', 'ducker', 'limiter'])
export const showsReduction = (processor: string): boolean => REDUCING.has(processor)

// Null tests: what is left when two recordings that should be equal are subtracted.
import { decibels } from '../foundation/elementary'
import { delayBetween } from './delay'

export interface Residual {
  /** RMS and peak of the difference in dBFS (RMS of 1 is 0 dBFS); −∞ when identical. */
  rmsDb: number
  peakDb: number
  /** RMS of the first signal, to put the residual in proportion. */
  signalDb: number
}

/** Running difference of streams: feed equal pieces of both, read at any time. */
export class NullMeter {
  private sum = 0
  private top = 0
  private signal = 0
  private count = 0

  /** Legs × n of both. */
  feed(a: readonly Float32Array[], b: readonly Float32Array[]): void {
    a.forEach((leg, i) => {
      const other = b[i]
      let sum = 0,
        signal = 0,
        top = this.top
      for (let n = 0; n < leg.length; n++) {
        const d = leg[n] - other[n]
        sum += d * d
        signal += leg[n] * leg[n]
        if (d > top) top = d
        else if (-d > top) top = -d
      }
      this.sum += sum
      this.signal += signal
      this.top = top
      this.count += leg.length
    })
  }

  read(): Residual {
    const rms = (sum: number) => decibels(Math.sqrt(sum / Math.max(1, this.count)))
    return { rmsDb: rms(this.sum), peakDb: decibels(this.top), signalDb: rms(this.signal) }
  }
}

export interface Mismatch {
  delaySamples: number
  gainDb: number
  inverted: boolean
}

/** What it would take to make `b` equal `a`: how late it is, how loud, which way round. */
export function mismatch(a: ArrayLike<number>, b: ArrayLike<number>): Mismatch {
  const { samples, gain, inverted } = delayBetween(a, b)
  return { delaySamples: samples, gainDb: decibels(Math.abs(gain)), inverted }
}

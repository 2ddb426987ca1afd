// Delay between two signals: whole samples from the peak of the correlation, the fraction from the slope of the
// cross-spectrum's phase (a parabola over the peak errs by up to 0.1 sample).
import { PI, atan2, cos, sin } from '../foundation/elementary'
import { inverseReal, powerOfTwoAbove, spectrum } from './spectrum'

/** Slope of the phase of a response around a known whole delay. Least squares through 0 (or π), weighted by power. */
export function fractionFromPhase(
  h: number[],
  whole: number,
  lowBin: number,
  highBin: number,
  inverted: boolean
): number {
  const size = h.length / 2
  let num: number,
    den: number,
    total = 0
  const phase = (k: number, extra: number) => {
    const w = (2 * PI * k) / size
    const c = cos(w * extra),
      s = sin(w * extra)
    const re = h[2 * k] * c - h[2 * k + 1] * s,
      im = h[2 * k] * s + h[2 * k + 1] * c
    return inverted ? atan2(-im, -re) : atan2(im, re)
  }
  // Twice: the second time around the first estimate, where no phase can have wrapped.
  for (let pass = 0; pass < 3; pass++) {
    num = den = 0
    for (let k = lowBin; k < highBin; k++) {
      const w = (2 * PI * k) / size
      const power = h[2 * k] ** 2 + h[2 * k + 1] ** 2
      num += power * w * phase(k, whole + total)
      den += power * w * w
    }
    total -= den > 0 ? num / den : 0
  }
  return total
}

export interface DelayEstimate {
  samples: number
  gain: number
  inverted: boolean
}

/** How late `b` is against `a`, and by what factor. Both of equal length. */
export function delayBetween(a: ArrayLike<number>, b: ArrayLike<number>): DelayEstimate {
  const size = powerOfTwoAbove(2 * Math.max(a.length, b.length))
  const A = spectrum(a, size),
    B = spectrum(b, size)
  const cross = new Array<number>(2 * size)
  for (let k = 0; k < size; k++) {
    cross[2 * k] = A[2 * k] * B[2 * k] + A[2 * k + 1] * B[2 * k + 1]
    cross[2 * k + 1] = A[2 * k] * B[2 * k + 1] - A[2 * k + 1] * B[2 * k]
  }
  const correlation = inverseReal(cross)
  let best = 0
  for (let n = 1; n < size; n++) if (Math.abs(correlation[n]) > Math.abs(correlation[best])) best = n
  const whole = best > size / 2 ? best - size : best
  const inverted = correlation[best] < 0
  const samples =
    whole + fractionFromPhase(cross, whole, Math.max(1, Math.round(size / 2000)), Math.round(size * 0.35), inverted)
  let energy = 0,
    along = 0
  for (let k = 1; k < size / 2; k++) {
    const w = ((2 * PI * k) / size) * samples
    energy += A[2 * k] ** 2 + A[2 * k + 1] ** 2
    along += cross[2 * k] * cos(w) - cross[2 * k + 1] * sin(w)
  }
  return { samples, gain: energy > 0 ? along / energy : 0, inverted }
}

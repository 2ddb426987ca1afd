// Delays by fractions of a sample. Two designs that share nothing: `compensationTaps` is what a loop uses to become
// whole again, `converterTaps` is what the simulated converters do, so that one cannot hide an error of the other.
import { kaiser } from '../foundation/kaiser'
import { PI, cos, exp, sin } from '../foundation/elementary'

export const COMPENSATION_TAPS = 64
/** Whole samples by which the compensation filter is late, beside its fraction. */
export const COMPENSATION_DELAY = COMPENSATION_TAPS / 2 - 1

/**
 * Taps of a Kaiser-windowed sinc that delays by COMPENSATION_DELAY + fraction.
 * Complex error ≤ −100 dB up to 0.4 of the rate. Kaiser & Schafer 1980; β = 12.
 * @param fraction 0 ≤ fraction < 1
 */
export function compensationTaps(fraction: number): number[] {
  const beta = 12,
    half = COMPENSATION_TAPS / 2
  return normalised(
    Array.from({ length: COMPENSATION_TAPS }, (_, n) => {
      const x = n - COMPENSATION_DELAY - fraction
      const r = x / half
      const window = kaiser(r, beta)
      return (x === 0 ? 1 : sin(PI * x) / (PI * x)) * window
    })
  )
}

/** Raised whenever the same delay of a converter sounds different. */
export const CONVERTER_VERSION = 2
/** Whole samples by which the converter's own filter is late where there is room for all of it. */
export const CONVERTER_DELAY = 63

/** Below this, a bell has no room. */
const SHORT = 8

/**
 * Taps that are exact for any polynomial of their degree, so for low frequencies (Laakso et al. 1996, “Splitting the
 * unit delay”).
 */
function lagrange(whole: number, fraction: number): number[] {
  const taps = Array.from({ length: 2 * whole + 2 }, (_, n) => n),
    delay = whole + fraction
  return taps.map(n => taps.reduce((h, j) => (j === n ? h : (h * (delay - j)) / (n - j)), 1))
}

/**
 * Taps for a delay of so many whole samples and a fraction by a sinc under a Gaussian bell: the converter's own filter.
 * Where the converter is shorter than the filter, the bell is narrower: σ is 12.2 samples at 63, in proportion below.
 * @param whole 0 … CONVERTER_DELAY
 */
export function converterTaps(whole: number, fraction: number): number[] {
  if (whole < SHORT) return lagrange(whole, fraction)
  const sigma = (12.2 * whole) / CONVERTER_DELAY
  return normalised(
    Array.from({ length: 2 * whole + 2 }, (_, n) => {
      const x = n - whole - fraction
      return (x === 0 ? 1 : sin(PI * (x % 2)) / (PI * x)) * exp((-x * x) / (2 * sigma * sigma))
    })
  )
}

/** Lowpass for shaping at four times the rate: 64 taps, cut at 0.45 of the original rate, Blackman-Harris window. */
export const oversamplingLowPass = (): number[] =>
  normalised(
    Array.from({ length: 64 }, (_, n) => {
      const x = n - 31.5,
        f = 0.45 / 2
      const t = (2 * PI * (n + 0.5)) / 64
      const window = 0.35875 - 0.48829 * cos(t) + 0.14128 * cos(2 * t) - 0.01168 * cos(3 * t)
      return (sin(PI * f * x) / (PI * x)) * window
    })
  )
let oversampling: number[] | undefined
export const oversamplingTaps = (): number[] => (oversampling ??= oversamplingLowPass())

function normalised(taps: number[]): number[] {
  const sum = taps.reduce((a, b) => a + b, 0)
  return taps.map(t => t / sum)
}

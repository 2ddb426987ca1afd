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
  const beta = 12, half = COMPENSATION_TAPS / 2
  return normalised(Array.from({ length: COMPENSATION_TAPS }, (_, n) => {
    const x = n - COMPENSATION_DELAY - fraction
    const r = x / half
    const window = kaiser(r, beta)
    return (x === 0 ? 1 : sin(PI * x) / (PI * x)) * window
  }))
}

export const CONVERTER_TAPS = 128

/**
 * Taps for a delay of 63 + fraction by a sinc under a Gaussian bell (σ = 12.2 samples): the converter's own filter.
 */
export function converterTaps(fraction: number): number[] {
  const centre = CONVERTER_TAPS / 2 - 1 + fraction
  return normalised(Array.from({ length: CONVERTER_TAPS }, (_, n) => {
    const x = n - centre
    return (x === 0 ? 1 : sin(PI * (x % 2)) / (PI * x)) * exp(-x * x / (2 * 12.2 * 12.2))
  }))
}

/** Lowpass for shaping at four times the rate: 64 taps, cut at 0.45 of the original rate, Blackman-Harris window. */
let oversampling: number[] | undefined
export function oversamplingTaps(): number[] {
  return oversampling ??= normalised(Array.from({ length: 64 }, (_, n) => {
    const x = n - 31.5, f = 0.45 / 2
    const t = 2 * PI * (n + 0.5) / 64
    const window = 0.35875 - 0.48829 * cos(t) + 0.14128 * cos(2 * t) - 0.01168 * cos(3 * t)
    return sin(PI * f * x) / (PI * x) * window
  }))
}

function normalised(taps: number[]): number[] {
  const sum = taps.reduce((a, b) => a + b, 0)
  return taps.map(t => t / sum)
}

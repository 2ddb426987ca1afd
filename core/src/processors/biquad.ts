// Coefficients of second-order sections, a0 = 1: [b0, b1, b2, a1, a2].
// R. Bristow-Johnson, "Cookbook formulae for audio EQ biquad filter coefficients"; Butterworth cuts by the bilinear
// transform with the corner prewarped, sections of Q = 1 / (2 cos θ).
import type { Section } from '../plan/operations'
import { PI, cos, sin, tan, pow, log10 } from '../foundation/elementary'

export type BandKind = 'bell' | 'low shelf' | 'high shelf' | 'notch'

const normal = (b0: number, b1: number, b2: number, a0: number, a1: number, a2: number): Section => [
  b0 / a0,
  b1 / a0,
  b2 / a0,
  a1 / a0,
  a2 / a0
]

/** The angle of a frequency, never quite half the rate. */
export const angleAt = (hz: number, sampleRate: number): number =>
  (2 * PI * Math.min(hz, sampleRate * 0.499)) / sampleRate

/**
 * @param hz centre or corner · @param db gain (not used by a notch) · @param q quality; a shelf's slope follows from
 * its Q
 */
export function band(kind: BandKind, hz: number, db: number, q: number, sampleRate: number): Section {
  const w = angleAt(hz, sampleRate),
    c = cos(w),
    alpha = sin(w) / (2 * q),
    a = pow(10, db / 40),
    root = 2 * Math.sqrt(a) * alpha
  switch (kind) {
    case 'bell':
      return normal(1 + alpha * a, -2 * c, 1 - alpha * a, 1 + alpha / a, -2 * c, 1 - alpha / a)
    case 'notch':
      return normal(1, -2 * c, 1, 1 + alpha, -2 * c, 1 - alpha)
    case 'low shelf':
      return normal(
        a * (a + 1 - (a - 1) * c + root),
        2 * a * (a - 1 - (a + 1) * c),
        a * (a + 1 - (a - 1) * c - root),
        a + 1 + (a - 1) * c + root,
        -2 * (a - 1 + (a + 1) * c),
        a + 1 + (a - 1) * c - root
      )
    case 'high shelf':
      return normal(
        a * (a + 1 + (a - 1) * c + root),
        -2 * a * (a - 1 + (a + 1) * c),
        a * (a + 1 + (a - 1) * c - root),
        a + 1 - (a - 1) * c + root,
        2 * (a - 1 - (a + 1) * c),
        a + 1 - (a - 1) * c - root
      )
  }
}

/** A Butterworth cut of any order as sections. `slope` in dB an octave: 6 × order. */
export function cut(side: 'low' | 'high', hz: number, slope: number, sampleRate: number): Section[] {
  const order = Math.max(1, Math.round(slope / 6))
  const k = tan((PI * Math.min(hz, sampleRate * 0.499)) / sampleRate)
  const odd = order % 2
  const sections: Section[] = []
  for (let i = 0; i < Math.floor(order / 2); i++) {
    // Poles lie at equal angles; an odd order has one real pole, and its pairs start a whole step away from it.
    sections.push(secondOrderCut(side, k, 1 / (2 * cos((PI * (odd ? i + 1 : i + 0.5)) / order))))
  }
  if (odd) sections.push(firstOrderCut(side, k))
  return sections
}

function secondOrderCut(side: 'low' | 'high', k: number, q: number): Section {
  const a0 = 1 + k / q + k * k
  const a1 = 2 * (k * k - 1),
    a2 = 1 - k / q + k * k
  return side === 'low' ? normal(1, -2, 1, a0, a1, a2) : normal(k * k, 2 * k * k, k * k, a0, a1, a2)
}

function firstOrderCut(side: 'low' | 'high', k: number): Section {
  return side === 'low' ? normal(1, -1, 0, 1 + k, k - 1, 0) : normal(k, k, 0, 1 + k, k - 1, 0)
}

/** Gain in dB of a cascade at a frequency. */
export function responseDb(sections: readonly Section[], hz: number, sampleRate: number): number {
  const w = (2 * PI * hz) / sampleRate
  let db = 0
  for (const [b0, b1, b2, a1, a2] of sections) {
    const power = (c0: number, c1: number, c2: number) => {
      const re = c0 + c1 * cos(w) + c2 * cos(2 * w),
        im = -c1 * sin(w) - c2 * sin(2 * w)
      return re * re + im * im
    }
    db += 10 * log10(power(b0, b1, b2) / power(1, a1, a2))
  }
  return db
}

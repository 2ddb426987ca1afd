// Taps against their formulas, written again: a sinc under Kaiser's window, under a Gaussian bell, and polynomials.
import { describe, expect, it } from 'vitest'
import { kaiser, normal, sinc } from '../testing/reference/windows'
import { compensationTaps, converterTaps, oversamplingLowPass, oversamplingTaps } from './fractional'

const near = (is: number[], wanted: number[]) => {
  expect(is).toHaveLength(wanted.length)
  is.forEach((tap, n) => expect(tap, `tap ${n}`).toBeCloseTo(wanted[n]!, 11))
}

describe('taps', () => {
  it.each([0, 0.25, 0.5, 0.901])('of a compensation by 31 samples and %f', fraction => {
    const wanted = Array.from({ length: 64 }, (_, n) => sinc(n - 31 - fraction) * kaiser((n - 31 - fraction) / 32, 12))
    near(compensationTaps(fraction), normal(wanted))
  })

  it.each([
    [63, 0.4],
    [63, 0],
    [20, 0.75],
    [8, 0.1]
  ])('of a converter of %i samples and %f', (whole, fraction) => {
    const sigma = (12.2 * whole) / 63
    const wanted = Array.from({ length: 2 * whole + 2 }, (_, n) => {
      const x = n - whole - fraction
      return sinc(x) * Math.exp((-x * x) / (2 * sigma * sigma))
    })
    near(converterTaps(whole, fraction), normal(wanted))
  })

  it.each([
    [7, 0.5],
    [3, 0.2],
    [0, 0.25]
  ])('of a converter of %i samples and %f are exact for polynomials', (whole, fraction) => {
    const taps = converterTaps(whole, fraction)
    expect(taps).toHaveLength(2 * whole + 2)
    for (let power = 0; power < Math.min(5, taps.length); power++)
      expect(taps.reduce((sum, h, n) => sum + h * n ** power, 0)).toBeCloseTo((whole + fraction) ** power, 8)
  })

  it('of the low pass at four times the rate', () => {
    const wanted = Array.from({ length: 64 }, (_, n) => {
      const t = (2 * Math.PI * (n + 0.5)) / 64
      const window = 0.35875 - 0.48829 * Math.cos(t) + 0.14128 * Math.cos(2 * t) - 0.01168 * Math.cos(3 * t)
      return sinc(0.225 * (n - 31.5)) * window
    })
    near(oversamplingLowPass(), normal(wanted))
    expect(oversamplingTaps()).toEqual(oversamplingLowPass())
    expect(oversamplingTaps()).toBe(oversamplingTaps())
  })
})

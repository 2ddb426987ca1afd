// A value and its height in a lane, there and back, in every law; and what arrow keys do.
import { describe, expect, it } from 'vitest'
import { heightOf, shownValue, stepOf, valueOf } from './laneScale'

const DB = { law: 'db', min: -60, max: 12 } as const,
  PAN = { law: 'linear', min: -1, max: 1 } as const,
  HZ = { law: 'ratio', min: 20, max: 20000 } as const

describe('heights', () => {
  it.each([
    [DB, -40],
    [DB, -6],
    [DB, 0],
    [DB, 12],
    [PAN, -1],
    [PAN, 0.25],
    [HZ, 20],
    [HZ, 632.5],
    [HZ, 20000]
  ])('%o at %d comes back', (range, value) => {
    const back = valueOf(heightOf(value, range), range)!
    expect(Math.abs(back - value)).toBeLessThan(Math.abs(value) * 0.001 + 0.06)
  })
  it('−∞ lies at the bottom, and the bottom is −∞ for levels alone', () => {
    expect(heightOf(null, DB)).toBe(0)
    expect([valueOf(0, DB), valueOf(0, PAN), valueOf(0, HZ)]).toEqual([null, -1, 20])
  })
  it('rise with the value', () => {
    for (let db = -60; db < 12; db++) expect(heightOf(db + 1, DB)).toBeGreaterThan(heightOf(db, DB))
  })
  it('beyond the lane stay at its edge', () => expect([valueOf(1.4, HZ), valueOf(-0.2, PAN)]).toEqual([20000, -1]))
})

describe('arrow keys', () => {
  it('move levels by half a dB, down to −∞ and up again', () => {
    expect([
      stepOf(-6, true, DB),
      stepOf(-6, false, DB),
      stepOf(-60, false, DB),
      stepOf(null, true, DB),
      stepOf(12, true, DB)
    ]).toEqual([-5.5, -6.5, null, -59.5, 12])
  })
  it('move ratios by ratios and stop at the edges', () => {
    expect(stepOf(1000, true, HZ)).toBe(1030)
    expect(stepOf(20, false, HZ)).toBe(20)
    expect(stepOf(0.99, true, PAN)).toBe(1)
  })
})

describe('written', () => {
  it.each([
    ['levelDb', -3, { law: 'db', unit: 'dB' }, '−3.0 dB'],
    ['levelDb', null, { law: 'db', unit: 'dB' }, '−∞ dB'],
    ['pan', -0.5, { law: 'linear', unit: '' }, 'L50'],
    ['mix', 0.4, { law: 'linear', unit: '' }, '40 %'],
    ['hz1', 2500, { law: 'ratio', unit: 'Hz' }, '2.50 kHz']
  ] as const)('%s %s', (field, value, moving, text) => expect(shownValue(value, field, moving)).toBe(text))
})

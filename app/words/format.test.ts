// How numbers are written and read, and the one scale of faders and meters.
import { describe, expect, it } from 'vitest'
import { dB, pan, readPan, sentences, shortTime, time, value } from './format'
import { TICKS, levelAt, levelShare } from '~/numbers/levelScale'

describe('numbers', () => {
  it.each([
    [0, '0.0'],
    [-0.04, '0.0'],
    [-3.2, '−3.2'],
    [6, '+6.0'],
    [null, '−∞'],
    [-Infinity, '−∞'],
    [undefined, '−∞']
  ] as const)('%s dB is written %s', (v, text) => {
    expect(dB(v)).toBe(text)
  })

  it.each([
    ['C', 0],
    ['L30', -0.3],
    ['r 100', 1],
    ['-25', -0.25],
    ['−25 %', -0.25],
    ['L101', null],
    ['left', null]
  ] as const)('a pan “%s” is read as %s', (text, v) => {
    expect(readPan(text)).toBe(v)
  })

  it('times keep their milliseconds and roll over', () => {
    expect(time(0, 48000)).toBe('0:00.000')
    expect(time(48000 * 61 + 24, 48000)).toBe('1:01.000')
    expect(time(-5, 48000)).toBe('0:00.000')
    expect(shortTime(48000 * 125.25, 48000)).toBe('2:05.3')
  })

  it('parameters carry their unit', () => {
    expect([
      value(2600, 'Hz'),
      value(80, 'Hz'),
      value(3, ':1'),
      value(-12, 'dB'),
      value(0.5, 'ms'),
      value(42, '%'),
      value('bell')
    ]).toEqual(['2.60 kHz', '80.0 Hz', '3.00 : 1', '−12.0 dB', '0.50 ms', '42 %', 'bell'])
    expect([pan(0), pan(-0.2), pan(1)]).toEqual(['C', 'L20', 'R100'])
  })
})

describe('the scale', () => {
  it('goes from −∞ at the left to +12 dB at the right, always upwards', () => {
    expect([levelShare(null), levelShare(-90), levelShare(12), levelShare(20)]).toEqual([0, 0, 1, 1])
    for (let d = -59; d < 12; d++) expect(levelShare(d + 1)).toBeGreaterThan(levelShare(d))
    expect(TICKS.every(t => levelShare(t) > 0 && levelShare(t) < 1)).toBe(true)
  })

  it('a notch put at a level is read there again', () => {
    for (let d = -59.5; d < 12; d += 0.5) expect(levelAt(levelShare(d))).toBeCloseTo(d, 1)
    expect([levelAt(0), levelAt(1), levelAt(-3), levelAt(7)]).toEqual([null, 12, null, 12])
  })
})

it('what happened and what was kept are two sentences, however they came', () => {
  expect(sentences('It failed', 'Nothing was stored.')).toBe('It failed. Nothing was stored.')
  expect(sentences('Is it there?', undefined, '')).toBe('Is it there?')
})

import { describe, expect, it } from 'vitest'
import { numberFault, readNumber, type Range } from './read'

const value = (text: string, range?: Range) => {
  const read = readNumber(text, range)
  return 'fault' in read ? read.fault : read.value
}

describe('a typed number', () => {
  it.each<[string, Range, number | null]>([
    ['20 ms', { unit: 'ms' }, 20],
    ['0.02s', { unit: 'ms' }, 20],
    ['300 ms', { unit: 's' }, 0.3],
    ['2.5 kHz', { unit: 'Hz' }, 2500],
    ['2,5k', { unit: 'Hz' }, 2500],
    ['-3dB', { unit: 'dB' }, -3],
    ['−3 dB', { unit: 'dB' }, -3],
    ['-20+3', { unit: 'dB' }, -17],
    ['-20 dB + 3 dB', { unit: 'dB' }, -17],
    ['1/8', {}, 0.125],
    ['+1.5', { unit: 'dB' }, 1.5],
    ['.5', {}, 0.5],
    ['4:1', { unit: ':1' }, 4],
    ['55 %', { unit: '%' }, 55],
    ['-inf', { unit: 'dB', silence: true }, null],
    ['−∞ dB', { unit: 'dB', silence: true }, null],
    ['0.1+0.2', {}, 0.3]
  ])('“%s” is read', (text, range, want) => {
    expect(value(text, range)).toBe(want)
  })

  it.each<[string, Range, string]>([
    ['loud', { unit: 'dB' }, '“loud” is not a number in dB'],
    ['', {}, 'Type a number'],
    ['3 4', {}, '“3 4” is not a number'],
    ['20 Hz', { unit: 'ms' }, '“20 Hz” is not in ms'],
    ['-inf', { unit: 'dB' }, '“-inf” is not a number in dB'],
    ['1/0', {}, '“1/0” is not a number'],
    ['3--4', {}, '“3--4” is not a number'],
    ['99', { unit: 'dB', min: -60, max: 12 }, '−60 to 12 dB']
  ])('“%s” is not, and it says why', (text, range, fault) => {
    expect(String(value(text, range))).toBe(fault)
  })

  it('is asked before it is taken', () => {
    const fault = numberFault({ unit: 'Hz', min: 20, max: 20000 })
    expect(fault('1k')).toBeNull()
    expect(fault('5')).toBe('20 to 20000 Hz')
  })
})

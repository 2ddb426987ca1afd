import { describe, expect, it } from 'vitest'
import { Ballistics } from './ballistics'

const none = () => {}
const heard = (values: Record<string, number>) => new Map(Object.entries(values))

describe('displayed levels', () => {
  it('rise at once, fall by 24 dB a second however often they are read, and end at nothing', () => {
    for (const ms of [1, 16.7, 50]) {
      const b = new Ballistics()
      b.step(heard({ 'channel/a': 1 }), ms, none)
      expect(b.levels.get('channel/a')).toBe(0)
      const steps = Math.round(1000 / ms)
      for (let i = 0; i < steps; i++) expect(b.step(heard({ 'channel/a': 0 }), ms, none)).toBe(true)
      expect(b.levels.get('channel/a')).toBeCloseTo((-24 * ms * steps) / 1000, 6)
      expect(b.step(null, 10_000, none)).toBe(false)
      expect(b.levels.get('channel/a')).toBe(-Infinity)
      expect(b.highest.get('channel/a')).toBe(0)
    }
  })

  it('a higher peak is taken at once, a lower one only when the level has fallen to it', () => {
    const b = new Ballistics()
    b.step(heard({ a: 0.5 }), 20, none)
    b.step(heard({ a: 0.1 }), 20, none)
    expect(b.levels.get('a')).toBeCloseTo(20 * Math.log10(0.5) - 0.48, 6)
    b.step(heard({ a: 0.7 }), 20, none)
    expect(b.levels.get('a')).toBeCloseTo(20 * Math.log10(0.7), 6)
  })

  it('RMS comes to that of a steady signal, and is a mean of the power on the way', () => {
    const b = new Ballistics()
    b.step(heard({ 'rms/a': 0.5 }), 30, none)
    expect(b.levels.get('rms/a')).toBeCloseTo(10 * Math.log10(0.25 * 0.1), 6)
    for (let i = 0; i < 200; i++) b.step(heard({ 'rms/a': 0.5 }), 30, none)
    expect(b.levels.get('rms/a')).toBeCloseTo(20 * Math.log10(0.5), 6)
  })

  it('gain does not fall, and only peaks over 0 dBFS are told', () => {
    const b = new Ballistics(),
      told: [string, number][] = []
    b.step(heard({ 'gain/s': 0.5, 'port/p': 2, 'port/q': 1, 'rms/port/p': 2 }), 20, (key, db) => told.push([key, db]))
    expect(told).toEqual([['port/p', 20 * Math.log10(2)]])
    b.step(heard({}), 20, none)
    expect(b.levels.get('gain/s')).toBeCloseTo(-6.02, 2)
  })
})

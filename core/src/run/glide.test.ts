// What a hand changes gets there, on a way without corners, however often it is changed on the way.
import { describe, expect, it } from 'vitest'
import { NOBODY, type Op } from '../plan/operations'
import { Glides } from './glide'

const op = (kind: Op['kind'], ...params: number[]): Op => ({
  kind,
  owner: NOBODY,
  key: 'x',
  ins: [],
  outs: [],
  params,
  state: 0
})
const BLOCKS = 18

describe('a glide', () => {
  it('reaches its aim in 18 blocks, without going back or beyond', () => {
    const g = new Glides(),
      place = Float64Array.of(1, -4)
    g.aim(op('mix', 0, 4), place)
    let [a, b] = place
    for (let n = 0; n < BLOCKS; n++) {
      g.step()
      expect(place[0]).toBeLessThanOrEqual(a)
      expect(place[1]).toBeGreaterThanOrEqual(b)
      ;[a, b] = place
    }
    expect([...place]).toEqual([0, 4])
  })

  it('changes add up: a steady hand is followed at a steady pace', () => {
    const g = new Glides(),
      place = Float64Array.of(0)
    const way: number[] = []
    for (let n = 0; n < 90; n++) {
      if (n % 6 === 0) g.aim(op('mix', n / 6 + 1), place)
      g.step()
      way.push(place[0])
    }
    const steps = way.slice(30).map((v, i) => v - way[29 + i])
    for (const s of steps) expect(s).toBeCloseTo(1 / 6, 2)
  })

  it('a change back on the way returns without a jump', () => {
    const g = new Glides(),
      place = Float64Array.of(0)
    g.aim(op('mix', 1), place)
    for (let n = 0; n < 9; n++) g.step()
    const half = place[0]
    g.aim(op('mix', 0), place)
    g.step()
    expect(Math.abs(place[0] - half)).toBeLessThan(0.12)
    for (let n = 0; n < BLOCKS; n++) g.step()
    expect(place[0]).toBe(0)
  })

  it('what cannot lie between two settings is there at once; what somebody else sets is let go; settling ends all', () => {
    const g = new Glides(),
      delay = Float64Array.of(10),
      mix = Float64Array.of(0),
      other = Float64Array.of(0)
    g.aim(op('delay', 20), delay)
    expect(delay[0]).toBe(20)
    g.aim(op('mix', 1), mix)
    g.aim(op('mix', 1), other)
    g.drop(mix)
    mix[0] = 0.5
    g.step()
    expect(mix[0]).toBe(0.5)
    g.settle()
    expect(other[0]).toBe(1)
  })
})

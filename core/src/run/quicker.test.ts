import { describe, expect, it } from 'vitest'
import { LOOK, LONGEST_PAUSE, PAUSE, Quicker, SAMPLE, SAMPLE_EVERY, type Way } from './quicker'

/** What is done, block after block, where each way takes so long. */
function done(blocks: number, takes: (way: Way, block: number) => number): Way[] {
  let now = 0,
    block = 0
  const ways: Way[] = [],
    quicker = new Quicker(() => now)
  const doing = (way: Way) => () => {
    now += takes(way, block)
    ways.push(way)
  }
  const both = { together: doing('together'), alone: doing('alone') }
  for (; block < blocks; block++) quicker.block(both)
  return ways
}
const share = (ways: Way[], way: Way) => ways.filter(w => w === way).length / ways.length
const MANY = 64 * LOOK * SAMPLE_EVERY

describe('alone or together', () => {
  it('is together, and now and then alone for some blocks to compare, where that is quicker or about the same', () => {
    for (const takes of [0.6, 1, 1.2]) {
      const ways = done(MANY, way => (way === 'alone' ? 1 : takes))
      expect(ways.slice(0, LOOK)).toEqual(new Array(LOOK).fill('together'))
      expect(share(ways, 'alone')).toBeCloseTo(SAMPLE / (LOOK * SAMPLE_EVERY), 3)
    }
  })

  it('is alone but for a look in longer and longer pauses, where together is slower', () => {
    const ways = done(MANY, way => (way === 'alone' ? 1 : 3))
    expect(share(ways, 'together')).toBeLessThan(0.03)
    expect(share(ways.slice(-8 * (LOOK + LONGEST_PAUSE)), 'together')).toBeCloseTo(LOOK / (LOOK + LONGEST_PAUSE), 6)
  })

  it('does not leave for one look that was slow', () => {
    const ways = done(MANY, (way, block) => (way === 'alone' ? 1 : block % (7 * LOOK) < LOOK / 2 ? 3 : 0.6))
    expect(share(ways, 'alone')).toBeLessThan(0.05)
  })

  it('changes over where the second core goes, and back soon after it comes', () => {
    const turn = 8 * LONGEST_PAUSE
    const ways = done(3 * turn, (way, block) => (way === 'alone' ? 1 : Math.floor(block / turn) === 1 ? 4 : 0.6))
    expect(share(ways.slice(0, turn), 'together')).toBeGreaterThan(0.98)
    expect(share(ways.slice(turn, 2 * turn), 'alone')).toBeGreaterThan(0.9)
    expect(share(ways.slice(2 * turn + LONGEST_PAUSE), 'together')).toBeGreaterThan(0.98)
    expect(ways.indexOf('alone', turn + 3 * LOOK)).toBeLessThan(turn + PAUSE)
  })
})

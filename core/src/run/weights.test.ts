import { describe, expect, it } from 'vitest'
import { compile } from '../compile/compile'
import { Sketch } from '../testing/sketch'
import { heaviest, weight, weightOf } from './weights'

function session() {
  const k = new Sketch('Heavy')
  k.bus('main', { role: 'main' })
  k.bus('hall', { role: 'return' })
  k.main('hall', 'main')
  k.slot('hall', 'reverb')
  for (const id of ['plain', 'bent', 'muted']) {
    k.medium(id, 1, 48_000)
    k.track(id, id, { layout: ['M'] })
    k.main(id, 'main')
  }
  for (let n = 0; n < 3; n++) k.slot('bent', 'saturation')
  return k.session
}
const { ops } = compile(session(), { taps: [{ channel: 'main', tap: 'post' }] })

describe('what costs the most of a plan', () => {
  it('is named, the most first, by its share; what hardly costs is not', () => {
    const found = heaviest(ops)
    expect(found.map(h => h.channel)).toEqual(['bent', 'hall'])
    expect(found[0]!.share).toBeGreaterThan(found[1]!.share)
    expect(found.reduce((sum, h) => sum + h.share, 0)).toBeLessThanOrEqual(1)
    for (const { channel, share } of found) {
      const own = ops.filter(op => op.owner.channel === channel).reduce((sum, op) => sum + weight(op), 0)
      expect(share).toBeCloseTo(own / weightOf(ops), 12)
    }
  })

  it('is so many at most, and nothing of an empty plan', () => {
    expect(heaviest(ops, 1).map(h => h.channel)).toEqual(['bent'])
    expect(heaviest([])).toEqual([])
  })
})

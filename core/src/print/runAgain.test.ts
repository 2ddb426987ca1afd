import { describe, expect, it } from 'vitest'
import { Dice } from '../testing/generated'
import { whiteNoise } from '../testing/sound'
import { faultText, gathered, overlaps, toRunAgain } from './faults'
import { Losses } from './lost'
import { Seams, seamText } from './runAgain'

const RANGE = { from: 1000, frames: 9000 }

describe('bars that are run again', () => {
  const kept = whiteNoise(9000, 1),
    fresh = whiteNoise(9000, 2)
  const joined = (parts: { from: number; frames: number }[], piece: number, a = kept, b = fresh) => {
    const seams = new Seams(parts, 100, RANGE),
      out = new Float32Array(9000)
    for (let at = 0; at < 9000; at += piece) {
      const cut = (leg: Float32Array) => [leg.subarray(at, at + piece)]
      out.set(seams.join(cut(a), cut(b), 1000 + at)[0]!, at)
    }
    return { out, seams }
  }

  it('are new inside, as they were to the bit outside, and pass over in equal steps between', () => {
    const { out } = joined([{ from: 3000, frames: 1000 }], 4096)
    expect(out.subarray(0, 2000)).toEqual(kept.subarray(0, 2000))
    expect(out.subarray(2100, 2900)).toEqual(fresh.subarray(2100, 2900))
    expect(out.subarray(3000)).toEqual(kept.subarray(3000))
    const share = (n: number) => (out[n]! - kept[n]!) / (fresh[n]! - kept[n]!)
    for (let n = 0; n < 100; n++) {
      expect(share(2000 + n)).toBeCloseTo((n + 1) / 101, 3)
      expect(share(2999 - n)).toBeCloseTo((n + 1) / 101, 3)
    }
  })

  it('have no seam at the ends of the print, and the same samples however they come', () => {
    const parts = [
      { from: 1000, frames: 500 },
      { from: 9000, frames: 1000 }
    ]
    const { out } = joined(parts, 9000)
    expect(out.subarray(0, 400)).toEqual(fresh.subarray(0, 400))
    expect(out.subarray(8100)).toEqual(fresh.subarray(8100))
    for (const piece of [128, 777]) expect(joined(parts, piece).out).toEqual(out)
  })

  it('say what is apart in the seams', () => {
    const parts = [{ from: 3000, frames: 1000 }]
    expect(seamText(joined(parts, 512, kept, kept.slice()).seams.read())).toBe('the seams are identical')
    const off = kept.map(x => x * 1.001)
    expect(seamText(joined(parts, 512, kept, off).seams.read())).toBe('the seams are -60.0 dB apart')
    // Two noises of their own: 3 dB more than either.
    expect(seamText(joined(parts, 512).seams.read())).toMatch(/^the seams are [23]\.\d dB apart, which can be heard$/)
  })
})

describe('ranges for faults', () => {
  it('lie around each, inside the print, apart from each other: 300 generated lists', () => {
    for (let seed = 1; seed <= 300; seed++) {
      const dice = new Dice(seed)
      const faults = Array.from({ length: 1 + dice.below(8) }, () => ({
        from: 1000 + dice.below(8900),
        frames: 1 + dice.below(100)
      }))
      const parts = toRunAgain(faults, 50, RANGE)
      parts.forEach((p, i) => {
        expect(p.from).toBeGreaterThanOrEqual(1000)
        expect(p.from + p.frames).toBeLessThanOrEqual(10_000)
        if (i) expect(p.from - parts[i - 1]!.from - parts[i - 1]!.frames).toBeGreaterThan(100)
      })
      for (const f of faults) {
        const around = parts.filter(p => overlaps(p, f))
        expect(around).toHaveLength(1)
        expect(around[0]!.from).toBeLessThanOrEqual(Math.max(1000, f.from - 50))
        expect(around[0]!.from + around[0]!.frames).toBeGreaterThanOrEqual(Math.min(10_000, f.from + f.frames + 50))
      }
    }
  })
})

describe('faults of a print', () => {
  const fault = (kind: 'lost' | 'gap' | 'click' | 'clipped', from: number, frames: number) => ({
    ...{ kind, from, frames, what: 'In 1', overDb: 2.34 }
  })
  it('are kept in order, inside the print; the edge of what is lost is no gap of its own', () => {
    const all = [fault('click', 6000, 10), fault('gap', 2990, 10), fault('lost', 3000, 500), fault('clipped', 500, 600)]
    expect(gathered(all, RANGE).map(f => [f.kind, f.from, f.frames])).toEqual([
      ['clipped', 1000, 100],
      ['lost', 3000, 500],
      ['click', 6000, 10]
    ])
  })
  it('have words', () => {
    const said = (['clipped', 'lost', 'gap', 'click'] as const).map(kind => faultText(fault(kind, 0, 48), 48000))
    expect(said).toEqual(['In 1 clipped, 2.3 dB over', 'In 1', 'sound breaks off for 1.0 ms', 'a click'])
  })
})

it('what is lost goes on until something else is said, and ends with the print', () => {
  const losses = new Losses()
  losses.tell(0, [null, null])
  losses.tell(100, ['a', null])
  losses.tell(200, ['a', 'b'])
  losses.tell(300, [null, 'b'])
  const spans = (print: number, end: number) => losses.of(print, end).map(f => [f.what, f.from, f.frames])
  expect(spans(0, 1000)).toEqual([['a', 100, 200]])
  expect(spans(1, 1000)).toEqual([['b', 200, 800]])
  expect(spans(0, 150)).toEqual([['a', 100, 50]])
})

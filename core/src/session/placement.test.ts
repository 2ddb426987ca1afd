// Placement against its laws, written out: constant power for a mono source, balance for a wide one, folds as the
// layouts have them.
import { describe, expect, it } from 'vitest'
import { LAYOUTS } from './layouts'
import { folded, placement, placementTable } from './placement'

const { mono, stereo, LCR, quad } = LAYOUTS as Record<string, string[]>
const FIVE_ONE = LAYOUTS['5.1']!
const HALF = Math.SQRT1_2
const PANS = [-1, -0.73, -0.5, -0.1, 0, 0.2, 0.5, 0.9, 1]
const close = (got: number[][], wanted: number[][]) => {
  expect(got.map(r => r.length)).toEqual(wanted.map(r => r.length))
  wanted.forEach((row, leg) => row.forEach((g, k) => expect(got[leg]![k], `${leg} ${k}`).toBeCloseTo(g, 12)))
}

describe('one leg into two', () => {
  it('keeps its power wherever it is, and lies where the law says', () => {
    for (const pan of PANS) {
      const [[left], [right]] = placement(mono!, stereo!, pan) as [[number], [number]]
      expect(left).toBeCloseTo(Math.cos((Math.PI / 4) * (1 + pan)), 12)
      expect(right).toBeCloseTo(Math.sin((Math.PI / 4) * (1 + pan)), 12)
      expect(left ** 2 + right ** 2).toBeCloseTo(1, 12)
    }
  })

  it('is heard from left and right alone where there is more', () => {
    close(placement(mono!, quad!, 0), [[HALF], [HALF], [0], [0]])
    close(placement(mono!, LCR!, -1), [[1], [0], [0]])
  })
})

describe('two legs into two', () => {
  it('are left as they are in the middle, to the bit; the near one at any balance', () => {
    expect(placement(stereo!, stereo!, 0)).toEqual([
      [1, 0],
      [0, 1]
    ])
    for (const pan of PANS) {
      const far = Math.cos((Math.PI / 4) * (1 + Math.abs(pan))) / HALF
      close(
        placement(stereo!, stereo!, pan),
        pan >= 0
          ? [
              [pan === 0 ? 1 : far, 0],
              [0, 1]
            ]
          : [
              [1, 0],
              [0, far]
            ]
      )
    }
  })
})

describe('into one leg', () => {
  it('one goes at unity, two at 0.7071 each, what only adds weight below not at all', () => {
    expect(placement(mono!, mono!, 0.7)).toEqual([[1]])
    expect(placement(stereo!, mono!, -0.4)).toEqual([[HALF, HALF]])
    expect(placement(FIVE_ONE, mono!, 0)).toEqual([[HALF, HALF, HALF, 0, HALF, HALF]])
  })

  it('a mono track in the middle of a stereo bus comes out of it in mono as loud as it was', () => {
    const [[left], [right]] = placement(mono!, stereo!, 0) as [[number], [number]]
    const [[l, r]] = placement(stereo!, mono!, 0) as [[number, number]]
    expect(left * l + right * r).toBeCloseTo(1, 12)
  })
})

describe('folding down', () => {
  it('has the middle in both sides, the surrounds each in its own, and leaves out what has no place', () => {
    close(placement(LCR!, stereo!, 0), [
      [1, 0, HALF],
      [0, 1, HALF]
    ])
    close(placement(FIVE_ONE, stereo!, 0), [
      [1, 0, HALF, 0, HALF, 0],
      [0, 1, HALF, 0, 0, HALF]
    ])
  })

  it('is balanced by where a leg stands: the middle at no balance, surrounds as their side', () => {
    const far = Math.cos((Math.PI / 4) * 1.5) / HALF
    close(placement(FIVE_ONE, stereo!, 0.5), [
      [far, 0, HALF, 0, HALF * far, 0],
      [0, 1, HALF, 0, 0, HALF]
    ])
    close(placement(FIVE_ONE, stereo!, -0.5), [
      [1, 0, HALF, 0, HALF, 0],
      [0, far, HALF, 0, 0, HALF * far]
    ])
  })

  it('leaves what has a place of its own there', () => {
    close(
      placement(FIVE_ONE, FIVE_ONE, 0),
      FIVE_ONE.map((_, leg) => FIVE_ONE.map((_, k) => (leg === k ? 1 : 0)))
    )
    close(placement(stereo!, quad!, 0), [
      [1, 0],
      [0, 1],
      [0, 0],
      [0, 0]
    ])
  })

  it('two ways of one leg into one add up', () => {
    // A middle that folds to both sides, of which one is not there and has no fold of its own.
    close(placement(['C', 'Ls'], ['L', 'R'], 0), [
      [HALF, HALF],
      [HALF, 0]
    ])
  })
})

describe('legs without a left and a right', () => {
  it('go leg by leg, and what is too many nowhere', () => {
    expect(placement(['1', '2', '3'], ['1', '2'], 0.5)).toEqual([
      [1, 0, 0],
      [0, 1, 0]
    ])
    expect(placement(['M'], ['L', 'C'], 0)).toEqual([[1], [0]])
    expect(placement(['M'], ['C', 'R'], 0)).toEqual([[1], [0]])
    expect(placement(stereo!, ['R', 'C'], 0)).toEqual([
      [1, 0],
      [0, 1]
    ])
  })
})

describe('a table for placement that moves', () => {
  it('has the gains of 1025 places from left to right', () => {
    for (const [from, to] of [
      [mono!, stereo!],
      [FIVE_ONE, stereo!],
      [stereo!, mono!]
    ] as const) {
      const table = placementTable(from, to)
      expect(table.map(r => r.length)).toEqual(to.map(() => from.length))
      for (const i of [0, 1, 256, 512, 513, 1024]) {
        const gains = placement(from, to, i / 512 - 1)
        table.forEach((row, leg) =>
          row.forEach((places, k) => {
            expect(places).toHaveLength(1025)
            expect(places[i]).toBe(gains[leg]![k])
          })
        )
      }
    }
  })

  it('is made once for a pair of layouts', () => {
    expect(placementTable(mono!, stereo!)).toBe(placementTable(mono!, stereo!))
    expect(placementTable(mono!, stereo!)).not.toBe(placementTable(stereo!, mono!))
    expect(placementTable(['L', 'R'], ['M'])).not.toBe(placementTable(['L'], ['R', 'M']))
  })
})

describe('two loudspeakers, listened to another way', () => {
  const GAINS = [
    [0.9, 0.2],
    [0.1, 0.8]
  ]
  it.each([
    ['stereo', [0.9, 0.2], [0.1, 0.8]],
    ['mono', [0.5, 0.5], [0.5, 0.5]],
    ['left', [0.9, 0.2], [0.9, 0.2]],
    ['right', [0.1, 0.8], [0.1, 0.8]],
    ['swapped', [0.1, 0.8], [0.9, 0.2]],
    ['side', [0.4, -0.3], [0.4, -0.3]]
  ] as const)('%s', (as, left, right) => {
    close(folded(GAINS, as), [[...left], [...right]])
  })

  it('one of which is not there is silent', () => {
    close(folded([[0.5, 0.25]], 'mono'), [
      [0.25, 0.125],
      [0.25, 0.125]
    ])
    expect(folded([], 'mono')).toEqual([[], []])
  })
})

import { describe, expect, it } from 'vitest'
import { LAYOUTS } from './layouts'
import { labelsOfMask, maskOf, pairsIn, speaker } from './speakers'

describe('channel masks', () => {
  it.each([
    [0x4, ['M']],
    [0x3, ['L', 'R']],
    [0x33, ['L', 'R', 'Ls', 'Rs']],
    [0x603, ['L', 'R', 'Ls', 'Rs']],
    [0x37, ['L', 'R', 'C', 'Ls', 'Rs']],
    [0x3f, ['L', 'R', 'C', 'LFE', 'Ls', 'Rs']],
    [0x60f, ['L', 'R', 'C', 'LFE', 'Ls', 'Rs']],
    [0x63f, ['L', 'R', 'C', 'LFE', 'Lb', 'Rb', 'Ls', 'Rs']]
  ])('0x%s is %j', (mask, labels) => {
    expect(labelsOfMask(mask, labels.length)).toEqual(labels)
  })

  it('say nothing where they do not fit the legs', () => {
    expect(labelsOfMask(0, 2)).toBeNull()
    expect(labelsOfMask(0x3, 3)).toBeNull()
    expect(labelsOfMask(0x3f, 2)).toBeNull()
  })

  it('of every layout come back as it', () => {
    for (const layout of Object.values(LAYOUTS)) expect(labelsOfMask(maskOf(layout), layout.length)).toEqual(layout)
    expect(maskOf(['L', 'R', 'C', 'LFE', 'Lb', 'Rb', 'Ls', 'Rs'])).toBe(0x63f)
    expect(maskOf(['L', 'R', 'C', 'LFE', 'Ls', 'Rs'])).toBe(0x3f)
  })

  it('are not said of an order of legs that no mask has', () => {
    expect(maskOf(['R', 'L'])).toBe(0)
    expect(maskOf(['L', 'L'])).toBe(0)
    expect(maskOf(['L', 'something'])).toBe(0)
  })
})

describe('loudspeakers', () => {
  it('pair left with right, in the order of the legs', () => {
    expect(pairsIn(['Ls', 'C', 'R', 'Rs', 'L'])).toEqual([
      [0, 3],
      [4, 2]
    ])
    expect(pairsIn(['L', 'C'])).toEqual([])
    expect(pairsIn(['M'])).toEqual([])
  })

  it('that nobody knows stand nowhere and weigh as any', () => {
    expect(speaker('Xyz')).toEqual({ angleDeg: null, folds: [], weight: 1, bit: null })
    expect(speaker('')).toMatchObject({ bit: null })
    expect(speaker('Lc').bit).toBe(6)
  })
})

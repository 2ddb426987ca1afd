import { expect, it } from 'vitest'
import { TICKS, levelShare } from '~/numbers/levelScale'
import { faceOf, notchAt } from './levelFace'

/** Where the middle of a background stands that is `width` px wide in a box of 100 px: the rule of CSS for percent. */
function middle(place: string, width: number): number {
  const [, percent, px] = /^calc\((.*)% \+ (.*)px\)$/.exec(place)!
  return ((100 - width) * Number(percent)) / 100 + Number(px) + width / 2
}

it('a notch has its middle where the level is, at either end too', () => {
  for (const db of [null, -60, -40, -12.5, 0, 6, 12])
    expect(middle(notchAt(levelShare(db)), 9)).toBeCloseTo(100 * levelShare(db), 9)
})

it('a face has what is asked for, each in one layer, the notch on top', () => {
  const layers = (shown: Parameters<typeof faceOf>[0]) =>
    faceOf(shown)
      .background.split(/ border-box(?:, )?/)
      .filter(Boolean)
  const all = layers({ notch: true, runway: true, ticks: true })
  expect(all).toHaveLength(2 + TICKS.length)
  expect(all[0]).toContain('var(--at)')
  expect(all[1]).toContain('--track')
  expect(layers({ runway: true })).toEqual([all[1]])
  for (const [i, db] of TICKS.entries()) {
    const place = /\) (calc\(.*?\)) 2px/.exec(all[2 + i]!)![1]!
    expect(middle(place, 1)).toBeCloseTo(100 * levelShare(db), 9)
    expect(all[2 + i]).toContain(db === 0 ? '--ink-3' : '--rule')
  }
})

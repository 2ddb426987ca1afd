import { expect, it, vi } from 'vitest'
import { latest } from './latest'

it('asks only for what it was not asked last', () => {
  const of = vi.fn((v: number) => 2 * v),
    twice = latest(of)
  expect([1, 1, 2, 1, 0, -0, NaN].map(twice)).toEqual([2, 2, 4, 2, 0, 0, NaN])
  expect(of.mock.calls).toEqual([[1], [2], [1], [0], [NaN]])
})

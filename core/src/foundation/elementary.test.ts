import { expect, it } from 'vitest'
import * as own from './elementary'

const spread = (from: number, to: number) => Array.from({ length: 401 }, (_, i) => from + ((to - from) * i) / 400)

it.each([
  ['sin', own.sin, Math.sin, spread(-40, 40)],
  ['cos', own.cos, Math.cos, spread(-40, 40)],
  ['exp', own.exp, Math.exp, spread(-50, 50)],
  ['log', own.log, Math.log, spread(1e-6, 1000)],
  ['atan', own.atan, Math.atan, spread(-30, 30)],
  ['exp2', own.exp2, (x: number) => 2 ** x, spread(-30, 30)],
  ['tan', own.tan, Math.tan, spread(-1.5, 1.5)]
] as const)('%s agrees with the mathematical function to 1e-13', (_, mine, theirs, xs) => {
  for (const x of xs) expect(Math.abs(mine(x) - theirs(x))).toBeLessThan(1e-13 * Math.max(1, Math.abs(theirs(x))))
})

it('decibels and gains are inverse, and −∞ is zero', () => {
  for (const db of [-140, -6, 0, 3.7, 24]) expect(own.decibels(own.gainOf(db))).toBeCloseTo(db, 10)
  expect([own.gainOf(null), own.gainOf(-Infinity), own.decibels(0)]).toEqual([0, 0, -Infinity])
})

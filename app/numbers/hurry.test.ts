import { expect, it } from 'vitest'
import { Hurry } from './hurry'

/** Whether each of these frames finds itself in a hurry. */
const steps = (ms: number[], hurry = new Hurry()) => ms.map(t => hurry.step(t, true))
const times = (n: number, ms: number) => new Array<number>(n).fill(ms)

it('is none while frames come in time, nor for a single one that did not', () => {
  expect(steps(times(300, 16.7))).not.toContain(true)
  expect(steps([...times(60, 16.7), 40, ...times(60, 16.7)])).not.toContain(true)
})

it('begins where frames stay late, and is over soon after they do not', () => {
  const found = steps([...times(60, 16.7), ...times(60, 33), ...times(60, 16.7)])
  expect(found.indexOf(true)).toBeGreaterThan(60)
  expect(found.indexOf(true)).toBeLessThan(66)
  expect(found.lastIndexOf(true)).toBeLessThan(140)
})

it('forgets a tab that was in the background', () => {
  const found = steps([60_000, ...times(60, 16.7)])
  expect(found.lastIndexOf(true)).toBeLessThan(30)
})

it('is over with the last frame', () => {
  const hurry = new Hurry()
  expect(steps(times(60, 50), hurry).at(-1)).toBe(true)
  expect(hurry.step(50, false)).toBe(false)
  expect(hurry.step(16.7, true)).toBe(false)
})

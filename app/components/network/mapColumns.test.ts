import { describe, expect, it } from 'vitest'
import { mapColumns, NARROW } from './mapColumns'

const inside = (columns: ReturnType<typeof mapColumns>, width: number) => {
  columns.forEach((c, i) => {
    if (i) expect(c.x).toBeGreaterThan(columns[i - 1]!.x + columns[i - 1]!.width)
  })
  expect(columns.at(-1)!.x + columns.at(-1)!.width).toBeLessThanOrEqual(width)
}

describe('the columns of the Map', () => {
  it.each([
    [4, 1280],
    [5, 960],
    [2, 700]
  ])('%d of them in %d px are all readable', (count, width) => {
    const columns = mapColumns(count, width, null)
    inside(columns, width)
    expect(columns.every(c => c.width >= 106 && !c.narrow)).toBe(true)
  })

  it.each([
    [10, 960],
    [34, 960],
    [34, 1280],
    [66, 960]
  ])('%d of them in %d px become spines and still fit', (count, width) => inside(mapColumns(count, width, null), width))

  it('keeps tracks and what is selected readable among 34', () => {
    const columns = mapColumns(34, 1280, 20)
    inside(columns, 1280)
    expect([0, 20].map(i => columns[i]!.narrow)).toEqual([false, false])
    expect(columns.filter(c => c.width < NARROW).length).toBeGreaterThan(20)
  })
})

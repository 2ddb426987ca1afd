import { expect, it } from 'vitest'
import { Dice } from '@nullet/core/testing/generated'
import { seats } from './seats'

const of = (ids: readonly string[]) => new Map(ids.map(id => [id, { id }]))
const shown = (row: readonly ({ id: string } | null)[]) => row.map(t => t?.id ?? null)

it('what comes takes the seat of what has left; the others stay where they are', () => {
  const seat = seats<{ id: string }>(),
    all = of(['a', 'b', 'c', 'd', 'e'])
  const look = (...ids: string[]) => shown(seat(all, [...of(ids).values()]))
  expect(look('a', 'b', 'c')).toEqual(['a', 'b', 'c'])
  expect(look('b', 'c', 'd')).toEqual(['d', 'b', 'c'])
  expect(look('c', 'd')).toEqual(['d', 'b', 'c'])
  expect(look('c', 'd', 'e', 'a')).toEqual(['d', 'e', 'c', 'a'])
})

it('what is gone leaves its seat empty, and another one finds it', () => {
  const seat = seats<{ id: string }>()
  seat(of(['a', 'b']), [...of(['a', 'b']).values()])
  expect(shown(seat(of(['b']), [...of(['b']).values()]))).toEqual([null, 'b'])
  expect(shown(seat(of(['b', 'c']), [...of(['b', 'c']).values()]))).toEqual(['c', 'b'])
})

it('whatever comes and goes: everything in sight has one seat, and keeps it while it is in sight', () => {
  const dice = new Dice(77)
  const seat = seats<{ id: string }>()
  let before: (string | null)[] = [],
    most = 0
  for (let turn = 0; turn < 400; turn++) {
    const all = Array.from({ length: 40 }, (_, i) => `s${i}`).filter(() => dice.chance(0.9))
    const from = dice.below(31)
    const inSight = all.slice(from, from + dice.below(10))
    const now = shown(seat(of(all), [...of(inSight).values()]))
    const held = now.filter(id => id !== null)
    expect(new Set(held).size).toBe(held.length)
    expect(held).toEqual(expect.arrayContaining(inSight))
    expect(held.every(id => all.includes(id))).toBe(true)
    before.forEach((id, i) => id !== null && inSight.includes(id) && expect(now[i]).toBe(id))
    before = now
    most = Math.max(most, now.length)
  }
  expect(most).toBeLessThanOrEqual(9)
})

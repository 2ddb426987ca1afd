import { describe, expect, it } from 'vitest'
import { keysAfter, orderAfter, orderAt, ordersAfter } from './order'
import { byOrder } from './session'

const list = (...keys: string[]) => keys.map((order, i) => ({ id: `r${i}`, order }))
/** Where a row of this key would stand among the others. */
const placeOf = (rows: { id: string; order: string }[], order: string) =>
  [...rows, { id: 'new', order }].sort(byOrder).findIndex(r => r.id === 'new')

describe('order keys', () => {
  it('behind all, whatever order the list is in', () => {
    const rows = list('a3', 'a1', 'a2')
    expect(orderAfter(rows) > 'a3').toBe(true)
    const three = ordersAfter(rows, 3)
    expect([...three].sort()).toEqual(three)
    expect(new Set(three).size).toBe(3)
    expect(three[0]! > 'a3').toBe(true)
    expect(ordersAfter([], 2).every(k => k.length > 0)).toBe(true)
  })

  it('before any place of the list', () => {
    const rows = list('a5', 'a1', 'a3')
    for (const at of [0, 1, 2, 3]) expect(placeOf(rows, orderAt(rows, at))).toBe(at)
    expect(placeOf([], orderAt([], 0))).toBe(0)
  })

  it('also among keys that were written by hand', () => {
    const rows = list('first', 'second', 'third')
    expect(placeOf(rows, orderAt(rows, 3))).toBe(3)
    expect(orderAt(list('!'), 0)).toBe('')
    const behind = keysAfter('third', 3)
    expect([...behind].sort()).toEqual(behind)
    expect(new Set(behind).size).toBe(3)
    expect(behind.every(k => k > 'third')).toBe(true)
  })
})

// Order keys between others. Keys come from a well-kept generator; a session written by hand may hold any text, and
// then a key is made that still sorts where it should.
import { generateKeyBetween, generateNKeysBetween } from 'fractional-indexing'
import { byOrder } from './session'

type Ordered = { id: string; order: string }

/** n keys that sort behind all of these, in order. */
export const ordersAfter = (list: readonly Ordered[], n: number): string[] =>
  keysAfter([...list].sort(byOrder).at(-1)?.order ?? null, n)

/** n keys that sort behind a key, in order, and before another where there is one. */
export function keysAfter(last: string | null, n: number, before: string | null = null): string[] {
  try {
    return generateNKeysBetween(last, before, n)
  } catch {
    return Array.from({ length: n }, (_, i) => `${last}${String(i).padStart(4, '0')}`)
  }
}

export const orderAfter = (list: readonly Ordered[]): string => ordersAfter(list, 1).join('')

/** A key that puts a row before the one at an index of the ordered list. */
export function orderAt(list: readonly Ordered[], index: number): string {
  const sorted = [...list].sort(byOrder)
  const before = sorted[index - 1]?.order ?? null,
    after = sorted[index]?.order ?? null
  try {
    return generateKeyBetween(before, after)
  } catch {
    return before === null ? '' : `${before}V`
  }
}

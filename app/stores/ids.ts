// Ids and order keys, made where the gesture is made.
import { generateKeyBetween, generateNKeysBetween } from 'fractional-indexing'
import { byOrder } from '@nullet/core/session/session'

export const newId = (prefix = ''): string => `${prefix}${crypto.randomUUID().replaceAll('-', '').slice(0, 14)}`
export const newIds = (n: number): string[] => Array.from({ length: n }, () => newId())

type Ordered = { id: string, order: string }

export const orderAtEnd = (rows: readonly Ordered[]): string => generateKeyBetween([...rows].sort(byOrder).at(-1)?.order ?? null, null)

/** A key that puts a row before the one at an index of the ordered list. */
export function orderAt(rows: readonly Ordered[], index: number): string {
  const sorted = [...rows].sort(byOrder)
  return generateKeyBetween(sorted[index - 1]?.order ?? null, sorted[index]?.order ?? null)
}

export const ordersAtEnd = (rows: readonly Ordered[], n: number): string[] => generateNKeysBetween([...rows].sort(byOrder).at(-1)?.order ?? null, null, n)

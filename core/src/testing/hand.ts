// What a generated edit is made from: dice, the session as it is, new ids; and ids of rows that are there.
import { ordersAfter } from '../session/order'
import type { TableName } from '../session/rows'
import { rows, type Session } from '../session/session'
import type { Dice } from './generated'

/** Makes new ids. */
export type NewId = () => string

export interface Hand {
  dice: Dice
  session: Session
  newId: NewId
}

export const idsOf = ({ session }: Hand, table: TableName, where: (row: never) => boolean = () => true) =>
  (rows(session, table) as { id: string }[]).filter(r => where(r as never)).map(r => r.id)
/** One that is there; where there is none, one that is not. */
export const one = (hand: Hand, table: TableName, where?: (row: never) => boolean): string => {
  const ids = idsOf(hand, table, where)
  return ids.length ? hand.dice.pick(ids) : 'nobody'
}
export const some = (hand: Hand, table: TableName, most: number): string[] => {
  const ids = idsOf(hand, table)
  return ids.length ? hand.dice.some(ids, 1 + hand.dice.below(most)) : ['nobody']
}
export const bus = (hand: Hand) => one(hand, 'channel', (c: { kind: string }) => c.kind === 'bus')
export const isMono = (c: { kind: string; layout: string[] }) => c.kind === 'track' && c.layout.length === 1
export const order = ({ session }: Hand) => ordersAfter(rows(session, 'channel'), 1)[0]!
export const newIds = (hand: Hand, n: number) => Array.from({ length: n }, hand.newId)
export const db = ({ dice }: Hand) => Math.round(dice.next() * 300 - 240) / 10
export const ports = (hand: Hand, direction: string) =>
  hand.dice.some(
    idsOf(hand, 'port', (p: { direction: string }) => p.direction === direction),
    1 + hand.dice.below(2)
  )

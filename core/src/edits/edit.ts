// What an edit is: a verb with arguments that changes a draft of the session, or refuses with a reason.
// Ids, names with counters and order keys are made where the gesture is made and come in the arguments.
import type { z } from 'zod'
import { Refusal } from '../foundation/refusal'
import type { Row, TableName } from '../session/rows'
import { peekRow } from '../session/draft'
import { makeRow, type Session } from '../session/session'

export interface Edit<A extends z.ZodType = z.ZodType> {
  verb: string
  args: A
  /** The name under which it can be undone. */
  label(session: Session, args: z.output<A>): string
  apply(draft: Session, args: z.output<A>): void
}

export const defineEdit = <A extends z.ZodType>(edit: Edit<A>): Edit<A> => edit

/** The row, or a refusal that says what is not there. */
export function need<T extends TableName>(session: Session, table: T, id: string): Session[T][string] {
  const row = session[table][id]
  if (!row) throw new Refusal('notFound', `The ${table} “${id}” is not in this session any more`, [id])
  return row as Session[T][string]
}

/** Puts a new row in. @throws Refusal where its id is taken: nothing is ever overwritten by a row that is made */
export function put<T extends TableName>(draft: Session, table: T, fields: object): Row<T> {
  const row = makeRow(table, fields)
  const list = draft[table] as Record<string, Row<T>>
  if (list[row.id]) throw new Refusal('idTaken', `There is a ${table} with the id “${row.id}” already`, [row.id])
  list[row.id] = row
  return row
}

/** Fields of a row that is there, checked. */
export function change<T extends TableName>(draft: Session, table: T, id: string, fields: object): void {
  const row = peekRow(draft, table, id) ?? need(draft, table, id)
  ;(draft[table] as Record<string, Row<T>>)[id] = makeRow(table, { ...row, ...fields })
}

export const channelNames = (session: Session, ids: readonly string[]) =>
  ids.length === 1 ? ids.map(id => `“${session.channel[id]?.name ?? id}”`).join('') : `${ids.length} channels`

/** “a send feed”, “3 feeds”, for a label. */
export const feedCount = (session: Session, ids: readonly string[]): string =>
  ids.length === 1 ? ids.map(id => `a ${session.feed[id]?.kind ?? ''} feed`).join('') : `${ids.length} feeds`

/** The name of the channel that a slot is on, for a label; the slot may be gone. */
export const slotOwner = (session: Session, slot: string): string =>
  session.channel[session.slot[slot]?.channel ?? '']?.name ?? slot

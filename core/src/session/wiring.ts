// Is a session connected as before after a change? A level, a pan or a setting that a hand moves connects nothing: what
// is drawn of the connections, and who hears whom, stays as it is.
import type { TableName } from './rows'
import { otherFields, type RowChange } from './session'

/** Fields that connect and close nothing, as long as a level is not −∞ before or after. */
const MOVED: Partial<Record<TableName, readonly string[]>> = {
  channel: ['levelDb', 'trimDb', 'pan'],
  feed: ['levelDb', 'pan'],
  slot: ['params'],
  envelope: ['points']
}

type Fields = Record<string, unknown>

function isMove({ table, before, after }: RowChange): boolean {
  if (!before || !after) return false
  const isNone = (row: unknown, field: string) => (row as Fields)[field] === null
  return otherFields(before, after).every(
    field => MOVED[table]?.includes(field) && isNone(before, field) === isNone(after, field)
  )
}

export const connectsNothing = (changes: readonly RowChange[]): boolean => changes.every(isMove)

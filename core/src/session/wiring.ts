// Are two sessions connected in the same way? A level, a pan or a setting that a hand moves connects nothing: what is
// drawn of the connections, and who hears whom, stays as it is.
import type { TableName } from './rows'
import { difference, otherFields, type RowChange, type Session } from './session'

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

/** Costs what the tables count, not what they hold (see `difference`). */
export const isWiredAlike = (a: Session, b: Session): boolean => difference(a, b).every(isMove)

// Reading rows of a draft without making a proxy of each: an edit of many rows then costs what it changes.
import type { Row, TableName } from './rows'
import type { Session } from './session'

const peek = (table: object, id: string): unknown => Object.getOwnPropertyDescriptor(table, id)?.value

/** The row as it is now, to be read only; undefined where there is none. */
export const peekRow = <T extends TableName>(draft: Session, table: T, id: string) =>
  peek(draft[table], id) as Row<T> | undefined

/**
 * All rows of a table as they are now, to be read only: what is to change is reached through the draft, by its id.
 * (`Object.keys` would ask the draft for every row, whether it shows.)
 */
export const peekRows = <T extends TableName>(draft: Session, table: T): Row<T>[] =>
  (Reflect.ownKeys(draft[table]) as string[]).map(id => peek(draft[table], id) as Row<T>)

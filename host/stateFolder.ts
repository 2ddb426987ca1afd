// Where this installation keeps what it runs with: the database's address, halves of uploads, what the keeper told.
import { join } from 'node:path'

export const inState = (...names: string[]): string =>
  join(process.env.NULLET_STATE ?? join(process.cwd(), '.nullet'), ...names)

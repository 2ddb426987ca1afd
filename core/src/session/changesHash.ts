// A short hash of changed rows: browser and server compare what they made of the same edit.
import { canonical, shortHash } from '../foundation/hash'
import type { RowChange } from './session'

export const changesHash = (changes: readonly RowChange[]) =>
  shortHash(
    changes
      .map(c => `${c.table} ${c.id} ${canonical(c.after)}`)
      .sort()
      .join('\n')
  )

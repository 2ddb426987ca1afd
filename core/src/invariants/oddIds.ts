// Ids of other letters than ours become new ones, wherever they are named.
import { shortHash } from '../foundation/hash'
import { isId } from '../session/ids'
import { REFERENCES } from '../session/session'
import { TABLE_NAMES, type TableName } from '../session/rows'
import { keepable } from '../foundation/text'

type Fields = Record<string, unknown>
export type Lists = Partial<Record<TableName, readonly Fields[]>>

/** @param lists rows by table, as they came: whatever they hold beside ids is left alone */
export function withoutOddIds(lists: Lists): { lists: Lists; notes: string[] } {
  const fresh = new Map<TableName, Map<unknown, string>>(),
    notes: string[] = []
  for (const table of TABLE_NAMES) {
    const odd = (lists[table] ?? []).map(row => row?.id).filter(id => typeof id === 'string' && !isId(id)) as string[]
    fresh.set(table, new Map(odd.map(id => [id, `id-${shortHash(`${table} ${id}`)}`])))
    for (const id of new Set(odd))
      notes.push(
        `The ${table} “${keepable(id).slice(0, 80)}” is “${fresh.get(table)!.get(id)}” now: an id has other letters`
      )
  }
  if (!notes.length) return { lists, notes }
  const renamed = (table: TableName, row: Fields): Fields => {
    if (typeof row !== 'object' || row === null) return row
    const next: Fields = { ...row, id: fresh.get(table)!.get(row.id) ?? row.id }
    for (const [field, target] of Object.entries(REFERENCES[table] ?? {})) {
      const value = row[field],
        rename = (one: unknown) => fresh.get(target)!.get(one) ?? one
      if (Array.isArray(value)) next[field] = value.map(rename)
      else if (value !== undefined) next[field] = rename(value)
    }
    return next
  }
  return {
    lists: Object.fromEntries(TABLE_NAMES.filter(t => lists[t]).map(t => [t, lists[t]!.map(row => renamed(t, row))])),
    notes
  }
}

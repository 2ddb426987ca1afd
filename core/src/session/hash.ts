// A short hash of changed rows: browser and server compare what they made of the same edit.
import { sha256 } from '@noble/hashes/sha2'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils'
import type { RowChange } from './session'

/** JSON with keys in order. */
export function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join()}]`
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null'
  return `{${Object.entries(value).filter(([, v]) => v !== undefined).sort(([a], [b]) => a < b ? -1 : 1).map(([k, v]) => `${JSON.stringify(k)}:${canonical(v)}`).join()}}`
}

export const shortHash = (text: string) => bytesToHex(sha256(utf8ToBytes(text))).slice(0, 16)

export const changesHash = (changes: RowChange[]) =>
  shortHash(changes.map(c => `${c.table} ${c.id} ${canonical(c.after)}`).sort().join('\n'))

// A short hash of changed rows: browser and server compare what they made of the same edit.
import { sha256 } from '@noble/hashes/sha2'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils'
import type { RowChange } from './session'

/** JSON with keys in order. */
export function canonical(value: unknown): string {
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null'
  if (Array.isArray(value)) return `[${value.map(canonical).join()}]`
  const fields = value as Record<string, unknown>
  let text = ''
  for (const key of Object.keys(fields).sort()) {
    if (fields[key] !== undefined) text += `${text && ','}${JSON.stringify(key)}:${canonical(fields[key])}`
  }
  return `{${text}}`
}

export const shortHash = (text: string) => bytesToHex(sha256(utf8ToBytes(text))).slice(0, 16)

export const changesHash = (changes: readonly RowChange[]) =>
  shortHash(changes.map(c => `${c.table} ${c.id} ${canonical(c.after)}`).sort().join('\n'))

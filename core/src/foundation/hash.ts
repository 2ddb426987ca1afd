// Short hashes of text and of plain data, the same in every runtime.
import { sha256 } from '@noble/hashes/sha2'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils'

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

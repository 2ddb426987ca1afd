// Text that can be kept: no NUL (the database has no place for it), no half of a pair of code units.

const UNKEEPABLE = /\0|\p{Surrogate}/u

export const isKeepable = (text: string): boolean => !UNKEEPABLE.test(text)

/** The same text without what cannot be kept. */
export const keepable = (text: string): string => text.replace(/\0|\p{Surrogate}/gu, '�')

/** Where in a value made of plain data a text lies that cannot be kept, as a path; null when there is none. */
export function unkeepablePath(value: unknown, path = ''): string | null {
  if (typeof value === 'string') return isKeepable(value) ? null : path || 'it'
  if (typeof value !== 'object' || value === null) return null
  for (const [key, inner] of Object.entries(value)) {
    if (!isKeepable(key)) return `${path || 'it'} (a name in it)`
    const found = unkeepablePath(inner, path ? `${path}.${key}` : key)
    if (found) return found
  }
  return null
}

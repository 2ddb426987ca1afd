// Text that can be kept: no NUL (the database has no place for it), no half of a pair of code units.

const UNKEEPABLE = /\0|\p{Surrogate}/u

export const isKeepable = (text: string): boolean => !UNKEEPABLE.test(text)

/** The same text without what cannot be kept. */
export const keepable = (text: string): string => text.replace(/\0|\p{Surrogate}/gu, '\u{fffd}')

/** Where in a value made of plain data a text lies that cannot be kept, as a path; null when there is none. */
export function unkeepablePath(value: unknown): string | null {
  const path = search(value)
  return path && (path.join('.') || 'it')
}

/** The path is put together on the way back: where all is well, nothing is made. */
function search(value: unknown): string[] | null {
  if (typeof value === 'string') return isKeepable(value) ? null : []
  if (typeof value !== 'object' || value === null) return null
  for (const key in value) {
    const found = isKeepable(key) ? search((value as Record<string, unknown>)[key]) : ['a name in it']
    if (found) return found.length || isKeepable(key) ? [key, ...found].map(keepable) : found
  }
  return null
}

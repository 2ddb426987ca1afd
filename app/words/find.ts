// Finding by typing: an exact name comes before one that begins so, that before one in which every typed word begins a
// word, that before any other in which the words occur. Case and accents do not count.
export const folded = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/\p{Mark}/gu, '')
    .toLowerCase()
    .trim()

/** How well typed text fits: 0 exactly … 4 with the help of the hint; null where it does not. */
export function fit(typed: string, label: string, hint = ''): number | null {
  const text = folded(typed),
    name = folded(label)
  if (name === text) return 0
  if (name.startsWith(text)) return 1
  const words = text.split(/\s+/).filter(Boolean)
  const begun = name.split(/[\s\-–_./()]+/)
  if (words.every(w => begun.some(b => b.startsWith(w)))) return 2
  if (words.every(w => name.includes(w))) return 3
  const all = `${name} ${folded(hint)}`
  return words.every(w => all.includes(w)) ? 4 : null
}

/** Those that fit, the best first; equally good ones in the order in which they came. */
export const found = <T extends { label: string; hint?: string }>(typed: string, list: readonly T[]): T[] =>
  list
    .map(item => ({ item, rank: fit(typed, item.label, item.hint) }))
    .filter((r): r is { item: T; rank: number } => r.rank !== null)
    .sort((a, b) => a.rank - b.rank)
    .map(r => r.item)

// Elements for what a scroller shows: what comes into sight takes the element of something that has left it, which
// costs a fraction of a new one. What has left keeps its element until then.

/** @returns what is shown by seat, for what is in sight of all there is; a seat is empty where its holder is gone */
export function seats<T extends { id: string }>(): (
  all: ReadonlyMap<string, T>,
  inSight: readonly T[]
) => (T | null)[] {
  const held: (string | null)[] = []
  return (all, inSight) => {
    const wanted = new Set(inSight.map(t => t.id))
    const seated = new Set(held)
    const free = held.flatMap((id, seat) => (id !== null && wanted.has(id) ? [] : [seat]))
    for (const { id } of inSight) if (!seated.has(id)) held[free.shift() ?? held.length] = id
    held.forEach((id, seat) => id !== null && !all.has(id) && (held[seat] = null))
    return held.map(id => (id === null ? null : all.get(id)!))
  }
}

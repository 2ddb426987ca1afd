import { placement } from './placement'

/** Few pairs of layouts occur, in very many feeds. */
const known = new Map<string, string[]>()

/** Legs that have no place in a destination. */
export function lostLegs(from: readonly string[], to: readonly string[]): string[] {
  const name = `${from.join()}>${to.join()}`
  const found = known.get(name)
  if (found) return found
  const gains = placement(from, to, 0)
  const lost = from.filter((_, leg) => gains.every(row => row[leg] === 0))
  known.set(name, lost)
  return lost
}

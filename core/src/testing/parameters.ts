// Parameters of an operation in a machine beside those that it would be built with.
import type { Kind } from '../plan/operations'

/** Of a coefficient that a kernel has made, relative. */
const EXACT = 1e-12

/**
 * The first parameter that is another one; −1: none. A kernel makes coefficients of an equaliser whose settings move.
 * @param off how far a parameter may be off
 */
export function firstOther(kind: Kind, is: ArrayLike<number>, built: readonly number[], off = 0): number {
  const settings = kind === 'equaliser' ? 1 + 5 * built[0]! : Infinity
  return built.findIndex((v, i) => {
    if (i >= settings && (i - settings) % 4 === 3) return !(is[i]! <= 0)
    const most = kind === 'equaliser' && i < settings ? EXACT * Math.max(1, Math.abs(v)) : off
    return !(Math.abs(is[i]! - v) <= most)
  })
}

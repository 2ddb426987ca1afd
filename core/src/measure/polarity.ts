// Which way up a sound comes back. A pulse alone misleads where a cabinet or a tape bends its phase: a step must go to
// the same side, and clearly farther than to the other.

/** So much farther to that side, or its polarity is none to speak of. */
const CLEAR_STEP = 1.75

/** @param impulse response around its first arrival @param inverted whether its pulse points down */
export function polarityIsClear(impulse: readonly number[], inverted: boolean): boolean {
  let sum = 0,
    up = 0,
    down = 0
  for (const v of impulse) {
    sum += v
    up = Math.max(up, sum)
    down = Math.max(down, -sum)
  }
  return inverted ? down > CLEAR_STEP * up : up > CLEAR_STEP * down
}

/** Null where that is not certain. Pings of before this was judged are taken as they are. */
export const isTurned = (of: { inverted: boolean; polarityIsClear?: boolean }): boolean | null =>
  of.polarityIsClear === false ? null : of.inverted

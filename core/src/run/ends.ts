// Where a session ends before it is over, as a range that repeats does: clips fade, notes end, what rings rings on.
import type { Op } from '../plan/operations'

/** Frames in which clips fade out after the end. */
export const END_FADE = 256

/** @param legs legs × frames of source time from `from` on; what comes after the end goes out of them */
export function fadeAfter(legs: readonly Float32Array[], from: number, end: number): void {
  for (const leg of legs)
    for (let n = Math.max(0, end - from); n < leg.length; n++)
      leg[n]! *= Math.max(0, 1 - (from + n - end + 0.5) / END_FADE)
}

const NOTES = 5,
  COUNT = 1

/** The parameters of a voice whose notes end by then, see kernels/voice.ts: none begins there or later. */
export function voiceUntil({ params }: Op, end: number): number[] {
  const cut = [...params]
  for (let n = 0; n < params[COUNT]!; n++) {
    const at = NOTES + 4 * n
    if (params[at]! >= end) {
      cut[COUNT] = n
      break
    }
    cut[at + 1] = Math.min(params[at + 1]!, end)
  }
  return cut
}

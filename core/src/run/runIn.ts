// Where a look at levels begins: not at the session's start, which may be an hour before, but far enough before the
// range that what rings and what is driven has settled. Prints never use it: they equal a render from the start.
import { CHUNK } from '../plan/operations'

const RUN_IN_S = 8

/** @param from first frame that is looked at · @returns a frame at which a render may begin */
export const levelsBegin = (from: number, sampleRate: number): number =>
  Math.max(0, Math.floor((from - RUN_IN_S * sampleRate) / CHUNK) * CHUNK)

// An envelope's value at a frame: straight lines between its points, in the law of what it moves.
import { FLOOR_DB, exp, log } from '../foundation/elementary'
import type { EnvelopePoint } from '../session/rows'

/** `db`: straight in dB · `linear`: straight in the value · `ratio`: straight in its logarithm. */
export type Law = 'db' | 'linear' | 'ratio'

const onLine = (value: number | null, law: Law) =>
  law === 'ratio' ? log(value!) : law === 'db' ? Math.max(FLOOR_DB, value ?? FLOOR_DB) : value!
const offLine = (y: number, law: Law) => (law === 'ratio' ? exp(y) : y)

/** Index of the last point at or before a frame; −1 before the first. */
export function pointBefore(points: readonly EnvelopePoint[], frame: number): number {
  let low = 0,
    high = points.length
  while (low < high) {
    const mid = (low + high) >> 1
    if (points[mid][0] <= frame) low = mid + 1
    else high = mid
  }
  return low - 1
}

/**
 * Reads an envelope at one frame after another: where it is between two points is looked for only once it has left
 * them. The value at a frame of source time: before the first and after the last point it stays. dB for the law `db`,
 * never below FLOOR_DB.
 */
export function readerOf(points: readonly EnvelopePoint[], law: Law): (frame: number) => number {
  let from = Infinity,
    to = -Infinity,
    begin = 0,
    end = 0
  function lookFor(frame: number) {
    const i = pointBefore(points, frame)
    from = points[i]?.[0] ?? -Infinity
    to = points[i + 1]?.[0] ?? Infinity
    begin = onLine(points[Math.max(0, i)][1], law)
    end = i < 0 || i + 1 === points.length ? begin : onLine(points[i + 1][1], law)
  }
  return frame => {
    if (!(frame >= from && frame < to)) lookFor(frame)
    return offLine(begin === end ? begin : begin + ((end - begin) * (frame - from)) / (to - from), law)
  }
}

export const valueAt = (points: readonly EnvelopePoint[], frame: number, law: Law): number =>
  readerOf(points, law)(frame)

/**
 * New points take the place of what was between their first and last frame. Before them everything stays as it was;
 * after them the old line is met again within `glide` frames.
 */
export function spliced(
  points: readonly EnvelopePoint[],
  fresh: readonly EnvelopePoint[],
  law: Law,
  glide = 0
): EnvelopePoint[] {
  const from = fresh[0][0],
    back = fresh.at(-1)![0] + glide
  const old = (frame: number): EnvelopePoint => {
    const v = valueAt(points, frame, law)
    return [frame, law === 'db' && v <= FLOOR_DB ? null : v]
  }
  return [
    ...points.filter(([f]) => f < from),
    old(from),
    ...fresh,
    old(back),
    ...points.filter(([f]) => f > back)
  ].filter((p, i, all) => i === 0 || p[0] !== all[i - 1][0] || p[1] !== all[i - 1][1])
}

// Fewer points for the same movement: D. Douglas, T. Peucker, "Algorithms for the reduction of the number of points…",
// 1973, with the distance taken along the value's axis: nowhere is the thinned line further away than the tolerance.
import type { EnvelopePoint } from '../session/rows'
import type { Law } from './envelope'
import { FLOOR_DB, log } from '../foundation/elementary'

const height = (value: number | null, law: Law) => (law === 'ratio' ? log(value!) : (value ?? FLOOR_DB))

/** @param tolerance in dB (law `db`), in the value (`linear`) or in the natural logarithm of it (`ratio`) */
export function thin(points: readonly EnvelopePoint[], tolerance: number, law: Law): EnvelopePoint[] {
  if (points.length < 3) return [...points]
  const y = points.map(([, v]) => height(v, law))
  const keep = new Set([0, points.length - 1])
  const open: [number, number][] = [[0, points.length - 1]]
  while (open.length) {
    const [a, b] = open.pop()!
    let worst = tolerance,
      at = -1
    for (let i = a + 1; i < b; i++) {
      const line = y[a] + ((y[b] - y[a]) * (points[i][0] - points[a][0])) / Math.max(1, points[b][0] - points[a][0])
      const off = Math.abs(y[i] - line)
      if (off > worst) {
        worst = off
        at = i
      }
    }
    if (at < 0) continue
    keep.add(at)
    open.push([a, at], [at, b])
  }
  return points.filter((_, i) => keep.has(i))
}

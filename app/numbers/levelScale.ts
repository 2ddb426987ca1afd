// One scale for faders and meters, so that level and setting are read on the same bar: 0 … 1 from −60 to +12 dB.
const POINTS: readonly (readonly [number, number])[] = [
  [-60, 0],
  [-40, 0.14],
  [-30, 0.26],
  [-20, 0.41],
  [-10, 0.61],
  [0, 0.83],
  [12, 1]
]

export const TICKS = [-40, -30, -20, -10, -5, 0, 6]

export function levelShare(db: number | null): number {
  if (db === null || db <= -60) return 0
  if (db >= 12) return 1
  const i = POINTS.findIndex(([d]) => db <= d)
  const [d0, x0] = POINTS[i - 1]!,
    [d1, x1] = POINTS[i]!
  return x0 + ((db - d0) / (d1 - d0)) * (x1 - x0)
}

/** The level at a place; null for the very left end. */
export function levelAt(x: number): number | null {
  if (x <= 0) return null
  if (x >= 1) return 12
  const i = POINTS.findIndex(([, p]) => x <= p)
  const [d0, x0] = POINTS[i - 1]!,
    [d1, x1] = POINTS[i]!
  return Math.round((d0 + ((x - x0) / (x1 - x0)) * (d1 - d0)) * 10) / 10
}

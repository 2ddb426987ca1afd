// A line of the Map goes through what scrolls in different ways: the gutter beside the tracks, the columns of buses,
// the row of returns. Each draws its part where it scrolls by itself, so that only the gutter is drawn anew while a
// hand scrolls. What lies above or below a part is put just outside of it, where scrolling does not change it (and no
// further: dashes are cut all along a line, seen or not).
import type { Drawn, Point } from './lines'

/** Px of the Map. */
export interface Regions {
  /** Where the gutter beside the tracks begins and ends. */
  gutter: { left: number; right: number }
  /** Where captions end. */
  top: number
  /** Where the row of returns begins. */
  below: number
  /** How far the columns of buses are scrolled, and how high they are. */
  busScroll: number
  busHeight: number
}

/** Further outside than a turn or a line's width reaches. */
const OUTSIDE = 20

const part = (line: Drawn, points: Point[], passing = false): Drawn[] =>
  points.length > 1 ? [{ ...line, points, passing }] : []

/** What lies in the gutter beside the tracks, px from its upper left. */
export const inGutter = (line: Drawn, { gutter, top }: Regions): Drawn[] =>
  line.points.some(p => p.x < gutter.right && p.x >= gutter.left && !p.low)
    ? part(
        line,
        line.points.map(p => ({ x: p.x - gutter.left, y: p.y - top }))
      )
    : []

/** What lies in the columns of buses, px from the first column and from where they begin to scroll. */
export function inColumns(line: Drawn, { gutter, busScroll, busHeight }: Regions): Drawn[] {
  const inside = (p: Point) => p.x >= gutter.right
  if (!line.points.some(p => !p.low && p.x > gutter.right)) return []
  const first = line.points.findIndex(inside),
    last = line.points.findLastIndex(inside)
  // The point before counts where a line comes in along a height of its own.
  const own = line.straight ? line.points : line.points.slice(first, last + 1)
  return part(
    line,
    own.map(p => ({ x: p.x - gutter.right, y: p.low ? busHeight + OUTSIDE : p.y + busScroll })),
    !line.points.every(p => p.low || inside(p))
  )
}

/** What lies in the row of returns, px from its upper left. */
export const inBelow = (line: Drawn, { below }: Regions): Drawn[] =>
  line.points.some(p => p.low)
    ? part(
        line,
        line.points.map(p => ({ x: p.x, y: p.low ? p.y - below : -OUTSIDE }))
      )
    : []

// The way of every feed on the Map: curves from column to column, right angles between rows and back to where signal
// came from, always through gutters and lanes, never under a strip.
import type { Line } from '@nullet/core/graph/mapLayout'
import type { Drawn, Point } from './lines'
import { TOP, type MapPlaces } from './mapPlaces'

/**
 * @param lit feeds that are lit @param someLit whether the others are dimmed @param closed feeds that carry nothing
 * @param labels of lit ones, by feed
 */
export function routesOf(
  places: MapPlaces,
  lit: ReadonlySet<string>,
  someLit: boolean,
  closed: ReadonlySet<string>,
  labels: ReadonlyMap<string, string>
): Drawn[] {
  const { columnX, widthOf, gutterOf, strips, map, mainHeight, rowHeight, busScroll } = places
  const lanes = new Map<string, number>()
  /** Lines that would run beside one another take lanes of their own, by turns. */
  const laneOf = (key: string, of: number) => {
    if (!lanes.has(key)) lanes.set(key, lanes.size)
    return lanes.get(key)! % of
  }

  function route(line: Line): { points: Point[]; straight: boolean } | null {
    const a = places.right(line.from),
      b = places.left(line.to)
    if (!a || !b) return null
    const from = strips.value.get(line.from),
      to = strips.value.get(line.to)
    // Lines whose beginning is scrolled away are drawn only when they are asked for, if their end scrolls otherwise.
    const along = from && to && from.column > 0 && to.column > 0
    if (from && !along && !places.isOnScreen(from) && !lit.has(line.feed.id)) return null
    if (from && to && to.column > from.column) {
      const passed = line.via.flatMap(via => {
        const y = TOP + via.y - busScroll.value,
          x = columnX(via.column)
        return [
          { x, y },
          { x: x + widthOf(via.column), y }
        ]
      })
      return { points: [a, ...passed, b], straight: false }
    }
    const shift = Math.min(8 + laneOf(`${line.to} ${line.feed.kind}`, 5) * 5, from ? gutterOf(from.column) * 0.6 : 28)
    if (from && to) {
      const turn = columnX(from.column) + widthOf(from.column) + shift
      return angled(a, turn, { y: b.y }, { x: columnX(to.column) + widthOf(to.column), y: b.y })
    }
    const low = (y: number) => ({ y, low: true })
    if (from) {
      const before = b.x - 8 - laneOf(line.to, 3) * 4
      return angled(a, a.x + shift, low(mainHeight.value + 6 + laneOf(line.to, 4) * 4), b, before)
    }
    // From return to return: below the strips, so that no line runs under one.
    if (!to) return angled(a, a.x + 6, low(Math.max(a.y, b.y) + rowHeight.value / 2 + 5), b, b.x - 8)
    const rise = columnX(to.column) - Math.min(10 + laneOf(line.from, 4) * 5, gutterOf(to.column - 1) * 0.6)
    return angled(a, a.x + 10, low(mainHeight.value + 18 - laneOf(line.from, 3) * 4), b, rise)
  }

  return map.value.lines.flatMap((line): Drawn[] => {
    const way = route(line)
    if (!way) return []
    const isLit = lit.has(line.feed.id)
    const label = labels.get(line.feed.id)
    return [{ feed: line.feed, lit: isLit, dimmed: someLit && !isLit, closed: closed.has(line.feed.id), label, ...way }]
  })
}

/** Out to `turn`, along at the height `level`, at `before` to the end's height, then in. */
function angled(
  a: Point,
  turn: number,
  level: Omit<Point, 'x'>,
  b: Point,
  before?: number
): { points: Point[]; straight: true } {
  const way = [a, { ...a, x: turn }, { ...level, x: turn }]
  if (before !== undefined) way.push({ ...level, x: before }, { ...b, x: before })
  return { points: [...way, b], straight: true }
}

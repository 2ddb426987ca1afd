// Arrows on the Map: up and down a column, left and right to what lies nearest, and down into the row of returns.
import type { MapPlaces } from './mapPlaces'

const ARROWS: Record<string, readonly [column: number, row: number]> = {
  ArrowDown: [0, 1],
  ArrowUp: [0, -1],
  ArrowRight: [1, 0],
  ArrowLeft: [-1, 0]
}
export const isArrow = (key: string): boolean => key in ARROWS

/** The strip that an arrow leads to; undefined at an edge. */
export function neighbour(places: MapPlaces, from: string | null, key: string): string | undefined {
  const [across, down] = ARROWS[key]!
  const all = places.map.value.strips,
    returns = [...places.belows.value.keys()]
  const inReturns = from === null ? -1 : returns.indexOf(from)
  if (inReturns >= 0) return down < 0 ? nearestAbove(places, from!) : returns[inReturns + (down || across)]
  const here = all.find(s => s.id === from || s.members?.includes(from ?? ''))
  if (!here) return all[0]?.id
  const column = all.filter(s => s.column === here.column + across)
  if (across) return column.sort((a, b) => Math.abs(a.y - here.y) - Math.abs(b.y - here.y))[0]?.id
  column.sort((a, b) => a.y - b.y)
  return column[column.findIndex(s => s.id === here.id) + down]?.id ?? (down > 0 ? returns[0] : undefined)
}

/** The lowest strip of the column that lies over a return. */
function nearestAbove(places: MapPlaces, id: string): string | undefined {
  const x = places.belows.value.get(id)!.x
  return [...places.map.value.strips].sort(
    (a, b) => Math.abs(places.columnX(a.column) - x) - Math.abs(places.columnX(b.column) - x) || b.y - a.y
  )[0]?.id
}

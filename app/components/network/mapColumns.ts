// Where the Map's columns lie. When they do not all fit, columns become narrow spines, and those that matter now (the
// tracks, what is selected and what is beside it, the last one) keep their width as long as there is room.

export interface ColumnPlace {
  x: number
  width: number
  narrow: boolean
}

const WIDEST = 230,
  /** Twelve characters of a name. */
  READABLE = 106,
  SPINE = 14,
  SPINE_GUTTER = 10,
  RIGHT = 28
export const LEFT = 12
/** Narrower than this a strip shows no name. */
export const NARROW = 60
/** Narrower than this it shows its name without numbers. */
export const SCANT = 172

/** @param focus the column of what is selected, if anything is */
export function mapColumns(count: number, width: number, focus: number | null): ColumnPlace[] {
  // Many columns in a narrow page: names need the room more than lines do.
  const gutter = width < 1100 ? (count > 4 ? 42 : 56) : 84
  const even = (width - LEFT - RIGHT - (count - 1) * gutter) / count
  if (even >= READABLE)
    return placed(
      Array.from({ length: count }, () => Math.min(WIDEST, even)),
      gutter
    )

  const scale = Math.min(1, (width - LEFT - RIGHT) / (count * SPINE + (count - 1) * SPINE_GUTTER))
  const widths = Array.from({ length: count }, () => SPINE * scale)
  let room = width - LEFT - RIGHT - count * SPINE * scale - (count - 1) * SPINE_GUTTER * scale
  const wanted = [
    ...(focus === null ? [] : [focus]),
    0,
    ...(focus === null ? [] : [focus + 1, focus - 1]),
    count - 1,
    ...Array.from({ length: count }, (_, i) => i)
  ]
  for (const column of new Set(wanted.filter(c => c >= 0 && c < count))) {
    const grow = READABLE + 24 - widths[column]!
    if (grow > room) break
    widths[column]! += grow
    room -= grow
  }
  return placed(widths, SPINE_GUTTER * scale + Math.min(gutter - SPINE_GUTTER, room / Math.max(1, count - 1)))
}

function placed(widths: number[], gutter: number): ColumnPlace[] {
  let x = LEFT
  return widths.map(width => {
    const place = { x, width, narrow: width < NARROW }
    x += width + gutter
    return place
  })
}

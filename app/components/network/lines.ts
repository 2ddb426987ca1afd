// Feeds as paths: solid main, dashed send, dotted key with a diamond end. Lines that look alike are one path, since a
// drawing is paid for by its parts. Dashed ones stay apart, since a path's dashes are cut anew wherever a part of it
// shows; so do those that come and go, since a path that changes is painted anew as far as it reaches.
import type { Feed } from '@nullet/core/session/rows'

export interface Point {
  x: number
  y: number
  /** In the row of returns. */
  low?: boolean
}
export interface Drawn {
  feed: Pick<Feed, 'id' | 'kind'>
  points: readonly Point[]
  lit: boolean
  dimmed: boolean
  /** Nothing passes: muted, parked, at −∞, or a print stands in its place. */
  closed: boolean
  label?: string
  straight: boolean
  /** Comes and goes while the others stay. */
  passing?: boolean
}
export interface Path {
  key: string
  /** Classes. */
  look: string
  d: string
}
export interface Label {
  key: string
  text: string
  /** Its middle. */
  at: Point
}
export interface Drawing {
  paths: Path[]
  labels: Label[]
}

/** Beyond so many lines dashes can no longer be told apart: sends become thin lines then. */
const MOST_DASHED = 160
const MOST_LABELS = 40
const DASHED: ReadonlySet<string> = new Set(['send', 'key'])
const TURN = 5
/** Px of a label; its base is so far under its middle. */
export const LABEL = { character: 6, height: 12, base: 3.5, font: "10px 'IBM Plex Mono', monospace" }

export function drawingOf(lines: readonly Drawn[]): Drawing {
  const crowded = lines.length > MOST_DASHED
  const paths = new Map<string, Path>()
  const add = (key: string, look: string, d: string) => {
    const path = paths.get(key)
    if (path) path.d += d
    else paths.set(key, { key, look, d })
  }
  for (const line of [...lines].sort((a, b) => Number(a.lit) - Number(b.lit))) {
    const { id, kind } = line.feed
    const look = [kind, line.lit && 'lit', line.closed ? 'closed' : line.dimmed && 'dimmed', crowded && 'crowded']
      .filter(Boolean)
      .join(' ')
    const apart = line.passing || (!crowded && DASHED.has(kind))
    add(apart ? id : look, look, wayOf(line))
    const end = ['end', look].join(' ')
    if (kind === 'key') add(end, end, diamond(line.points.at(-1)!))
  }
  const labelled = lines.filter(l => l.lit && l.label)
  return {
    paths: [...paths.values()],
    labels:
      labelled.length > MOST_LABELS ? [] : labelled.map(l => ({ key: l.feed.id, text: l.label!, at: middleOf(l) }))
  }
}

/** Whether two drawings show the same. */
export const sameDrawing = (a: Drawing, b: Drawing): boolean =>
  a.paths.length === b.paths.length &&
  a.labels.length === b.labels.length &&
  a.paths.every((p, i) => p.d === b.paths[i]!.d && p.key === b.paths[i]!.key && p.look === b.paths[i]!.look) &&
  a.labels.every(({ key, text, at }, i) => {
    const other = b.labels[i]!
    return key === other.key && text === other.text && at.x === other.at.x && at.y === other.at.y
  })

/** As a path: curves between columns, or right angles with a small turn. */
export function wayOf({ points, straight }: Pick<Drawn, 'points' | 'straight'>): string {
  let d = `M${points[0]!.x} ${points[0]!.y}`
  for (let i = 1; i < points.length; i++) {
    const a = points[i - 1]!,
      b = points[i]!,
      next = points[i + 1]
    if (straight && next) d += turnAt(a, b, next)
    else if (straight || a.y === b.y || a.x === b.x) d += `L${b.x} ${b.y}`
    else d += `C${(a.x + b.x) / 2} ${a.y} ${(a.x + b.x) / 2} ${b.y} ${b.x} ${b.y}`
  }
  return d
}

function turnAt(a: Point, b: Point, c: Point): string {
  const before = Math.hypot(b.x - a.x, b.y - a.y),
    after = Math.hypot(c.x - b.x, c.y - b.y),
    turn = Math.min(TURN, before / 2, after / 2)
  if (!turn) return `L${b.x} ${b.y}`
  const towards = (p: Point, length: number) =>
    `${b.x + ((p.x - b.x) / length) * turn} ${b.y + ((p.y - b.y) / length) * turn}`
  return `L${towards(a, before)}Q${b.x} ${b.y} ${towards(c, after)}`
}

const diamond = ({ x, y }: Point) => `M${x - 5} ${y}L${x - 1} ${y - 4}L${x + 3} ${y}L${x - 1} ${y + 4}Z`

/** Where the label of a line stands: in the last gutter that it goes through, or before its end. */
function middleOf({ points, straight, label }: Drawn): Point {
  const a = points.at(-2)!,
    b = points.at(-1)!
  return straight
    ? { x: b.x - (label!.length * LABEL.character) / 2 - 5, y: b.y }
    : { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }
}

// Feeds as paths: solid main, dashed send, dotted key with a diamond end. Lines that look alike are one path, since a
// drawing is paid for by its parts. Dashed ones stay apart, since a path's dashes are cut anew wherever a part of it
// shows; so do those that come and go, since a path that changes is painted anew as far as it reaches.
import type { Feed } from '@nullet/core/session/rows'
import { dB } from '~/words/format'

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
interface Path {
  key: string
  /** Classes. */
  look: string
  d: string
}
interface Label {
  key: string
  text: string
  /** Its middle. */
  at: Point
}
interface Drawing {
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
/** What a label covers, px from its middle. */
export function boxOf(text: string): { x: number; y: number; width: number; height: number } {
  const width = text.length * LABEL.character + 4
  return { x: -width / 2, y: -LABEL.height / 2, width, height: LABEL.height }
}

/** What is drawn with. */
export type Pen = Pick<Path2D, 'moveTo' | 'lineTo' | 'bezierCurveTo' | 'quadraticCurveTo' | 'closePath'>

/** A pen that writes down where it goes, as the `d` of a path. */
class Writing implements Pen {
  d = ''
  moveTo(x: number, y: number): void {
    this.d += `M${x} ${y}`
  }
  lineTo(x: number, y: number): void {
    this.d += `L${x} ${y}`
  }
  quadraticCurveTo(...to: [number, number, number, number]): void {
    this.d += `Q${to.join(' ')}`
  }
  bezierCurveTo(...to: [number, number, number, number, number, number]): void {
    this.d += `C${to.join(' ')}`
  }
  closePath(): void {
    this.d += 'Z'
  }
}

/** What is drawn in one look, with a pen of its own. */
export function pathsOf<P extends Pen>(
  lines: readonly Drawn[],
  newPen: () => P
): { key: string; look: string; pen: P }[] {
  const crowded = lines.length > MOST_DASHED
  const paths = new Map<string, { key: string; look: string; pen: P }>()
  const penOf = (key: string, look: string) => {
    const path = paths.get(key) ?? { key, look, pen: newPen() }
    paths.set(key, path)
    return path.pen
  }
  for (const line of [...lines].sort((a, b) => Number(a.lit) - Number(b.lit))) {
    const { id, kind } = line.feed
    const look = [kind, line.lit && 'lit', line.closed ? 'closed' : line.dimmed && 'dimmed', crowded && 'crowded']
      .filter(Boolean)
      .join(' ')
    const apart = line.passing || (!crowded && DASHED.has(kind))
    trace(penOf(apart ? id : look, look), line)
    const end = ['end', look].join(' ')
    if (kind === 'key') diamond(penOf(end, end), line.points.at(-1)!)
  }
  return [...paths.values()]
}

/** The levels of feeds, but for main feeds at 0 dB; of too many none. @param feeds that are lit */
export function feedLabels(feeds: readonly (Feed | undefined)[]): Map<string, string> {
  const labelled = feeds.filter(f => f !== undefined && (f.kind !== 'main' || f.levelDb !== 0)) as Feed[]
  return new Map(labelled.length > MOST_LABELS ? [] : labelled.map(f => [f.id, dB(f.levelDb)]))
}

export const labelsOf = (lines: readonly Drawn[]): Label[] =>
  lines.filter(l => l.label).map(l => ({ key: l.feed.id, text: l.label!, at: middleOf(l) }))

export const drawingOf = (lines: readonly Drawn[]): Drawing => ({
  paths: pathsOf(lines, () => new Writing()).map(({ key, look, pen }) => ({ key, look, d: pen.d })),
  labels: labelsOf(lines)
})

/** What shows of a line, but for its way. */
const SHOWN = ['lit', 'dimmed', 'closed', 'label', 'straight', 'passing'] as const

/** Whether two lists of lines look the same. */
export const sameLines = (a: readonly Drawn[], b: readonly Drawn[]): boolean =>
  a.length === b.length &&
  a.every((line, i) => {
    const other = b[i]!
    return (
      line.feed.id === other.feed.id &&
      line.feed.kind === other.feed.kind &&
      SHOWN.every(key => line[key] === other[key]) &&
      line.points.length === other.points.length &&
      line.points.every(({ x, y }, k) => x === other.points[k]!.x && y === other.points[k]!.y)
    )
  })

/** As a path. */
export function wayOf(line: Pick<Drawn, 'points' | 'straight'>): string {
  const pen = new Writing()
  trace(pen, line)
  return pen.d
}

/** Curves between columns, or right angles with a small turn. */
function trace(pen: Pen, { points, straight }: Pick<Drawn, 'points' | 'straight'>): void {
  pen.moveTo(points[0]!.x, points[0]!.y)
  for (let i = 1; i < points.length; i++) {
    const a = points[i - 1]!,
      b = points[i]!,
      next = points[i + 1]
    if (straight && next) turn(pen, a, b, next)
    else if (straight || a.y === b.y || a.x === b.x) pen.lineTo(b.x, b.y)
    else pen.bezierCurveTo((a.x + b.x) / 2, a.y, (a.x + b.x) / 2, b.y, b.x, b.y)
  }
}

function turn(pen: Pen, a: Point, b: Point, c: Point): void {
  const before = Math.hypot(b.x - a.x, b.y - a.y),
    after = Math.hypot(c.x - b.x, c.y - b.y),
    size = Math.min(TURN, before / 2, after / 2)
  if (!size) return pen.lineTo(b.x, b.y)
  const x = (p: Point, length: number) => b.x + ((p.x - b.x) / length) * size,
    y = (p: Point, length: number) => b.y + ((p.y - b.y) / length) * size
  pen.lineTo(x(a, before), y(a, before))
  pen.quadraticCurveTo(b.x, b.y, x(c, after), y(c, after))
}

function diamond(pen: Pen, { x, y }: Point): void {
  pen.moveTo(x - 5, y)
  pen.lineTo(x - 1, y - 4)
  pen.lineTo(x + 3, y)
  pen.lineTo(x - 1, y + 4)
  pen.closePath()
}

/** Where the label of a line stands: in the last gutter that it goes through, or before its end. */
function middleOf({ points, straight, label }: Drawn): Point {
  const a = points.at(-2)!,
    b = points.at(-1)!
  return straight
    ? { x: b.x - (label!.length * LABEL.character) / 2 - 5, y: b.y }
    : { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }
}

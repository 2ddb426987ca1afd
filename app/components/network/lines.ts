// Draws the Map's feeds on one canvas: solid main, dashed send, dotted key with a diamond end, double line to a port.
import type { Feed } from '@nullet/core/session/rows'

export interface Point {
  x: number
  y: number
}
export interface Drawn {
  feed: Feed
  points: Point[]
  lit: boolean
  dimmed: boolean
  /** Nothing passes: muted, parked, at −∞, or a print stands in its place. */
  closed: boolean
  label?: string
  straight: boolean
}

/** Of the theme. */
export const INK = {
  rule: '--rule',
  main: '--ink-3',
  lit: '--signal',
  send: '--acting',
  key: '--key',
  text: '--ink',
  ground: '--ground'
}
export type Ink = typeof INK

const DASH: Record<string, number[]> = { main: [], send: [5, 3], key: [1.5, 3], port: [], input: [] }

/** Beyond so many lines dashes can no longer be told apart, and cost most of the time: sends become thin lines then. */
const MOST_DASHED = 160
const MOST_LABELS = 40

export function drawLines(g: CanvasRenderingContext2D, lines: readonly Drawn[], ink: Ink): void {
  const crowded = lines.length > MOST_DASHED
  for (const line of [...lines].sort((a, b) => Number(a.lit) - Number(b.lit))) {
    g.strokeStyle =
      line.feed.kind === 'key'
        ? ink.key
        : line.lit && line.feed.kind === 'main'
          ? ink.lit
          : line.feed.kind === 'send'
            ? ink.send
            : ink.main
    g.globalAlpha = line.closed ? 0.15 : line.lit ? 1 : line.dimmed ? 0.14 : line.feed.kind === 'main' ? 0.55 : 0.3
    g.lineWidth = line.lit && !crowded ? 2 : 1
    g.setLineDash(crowded ? [] : DASH[line.feed.kind]!)
    trace(g, line)
    g.setLineDash([])
    if (line.feed.kind === 'key') diamond(g, line.points.at(-1)!)
  }
  g.globalAlpha = 1
  const labelled = lines.filter(l => l.lit && l.label)
  if (labelled.length <= MOST_LABELS) for (const line of labelled) label(g, line, ink)
}

function trace(g: CanvasRenderingContext2D, { points, straight }: Drawn): void {
  g.beginPath()
  g.moveTo(points[0]!.x, points[0]!.y)
  for (let i = 1; i < points.length; i++) {
    const a = points[i - 1]!,
      b = points[i]!
    if (!straight && a.y !== b.y && a.x !== b.x) {
      const middle = (a.x + b.x) / 2
      g.bezierCurveTo(middle, a.y, middle, b.y, b.x, b.y)
      continue
    }
    // Right angles with a small turn.
    const next = points[i + 1]
    if (straight && next)
      g.arcTo(
        b.x,
        b.y,
        next.x,
        next.y,
        Math.min(5, Math.abs(a.x - b.x + a.y - b.y) / 2, Math.abs(b.x - next.x + b.y - next.y) / 2)
      )
    else g.lineTo(b.x, b.y)
  }
  g.stroke()
}

function diamond(g: CanvasRenderingContext2D, { x, y }: Point): void {
  g.fillStyle = g.strokeStyle
  g.beginPath()
  g.moveTo(x - 5, y)
  g.lineTo(x - 1, y - 4)
  g.lineTo(x + 3, y)
  g.lineTo(x - 1, y + 4)
  g.fill()
}

function label(g: CanvasRenderingContext2D, line: Drawn, ink: Ink): void {
  const a = line.points.at(-2)!,
    b = line.points.at(-1)!
  g.font = '10px "IBM Plex Mono"'
  const width = g.measureText(line.label!).width
  const x = line.straight ? b.x - width / 2 - 5 : (a.x + b.x) / 2,
    y = line.straight ? b.y : (a.y + b.y) / 2
  g.fillStyle = ink.ground
  g.fillRect(x - width / 2 - 2, y - 6, width + 4, 12)
  g.fillStyle = ink.text
  g.textAlign = 'center'
  g.textBaseline = 'middle'
  g.fillText(line.label!, x, y)
}

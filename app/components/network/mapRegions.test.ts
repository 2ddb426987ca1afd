import { expect, it } from 'vitest'
import type { Drawn, Point } from './lines'
import { inBelow, inColumns, inGutter, type Regions } from './mapRegions'

// Tracks end at 100, buses begin at 140, captions end at 20, returns begin at 500.
const regions = (busScroll = 0): Regions => ({
  gutter: { left: 100, right: 140 },
  top: 20,
  below: 500,
  busScroll,
  busHeight: 900
})
const line = (points: [number, number][], straight = false): Drawn => ({
  feed: { id: 'f', kind: 'main' },
  points: points.map(([x, y]) => (y >= 500 ? { x, y, low: true } : { x, y })),
  lit: false,
  dimmed: false,
  closed: false,
  straight
})
const toFirst = (y: number) =>
  line([
    [100, y],
    [140, 300]
  ])
const toFar = (y: number) =>
  line([
    [100, y],
    [140, 210],
    [240, 210],
    [300, 60]
  ])
const toReturn = (y: number) =>
  line(
    [
      [100, y],
      [110, y],
      [110, 506],
      [40, 506],
      [40, 530],
      [60, 530]
    ],
    true
  )
const places = (drawn: Drawn[]) => drawn.map(d => d.points.map(p => [p.x, p.y]))
const parts = (l: Drawn, r = regions()) => [inGutter(l, r), inColumns(l, r), inBelow(l, r)].map(places)

it('a feed to the first column of buses is drawn in the gutter alone', () => {
  expect(parts(toFirst(60))).toEqual([
    [
      [
        [0, 40],
        [40, 280]
      ]
    ],
    [],
    []
  ])
})

it('a feed to a later column goes on among the buses, from where it comes in', () => {
  expect(parts(toFar(60))).toEqual([
    [
      [
        [0, 40],
        [40, 190],
        [140, 190],
        [200, 40]
      ]
    ],
    [
      [
        [0, 210],
        [100, 210],
        [160, 60]
      ]
    ],
    []
  ])
})

it('what comes from the tracks comes and goes with them, what stays among the buses stays', () => {
  expect(inColumns(toFar(60), regions())[0]!.passing).toBe(true)
  expect(
    inColumns(
      line([
        [200, 60],
        [240, 90]
      ]),
      regions()
    )[0]!.passing
  ).toBe(false)
})

it('a scroll of the tracks changes the gutter alone, one of the buses nothing that lies among them', () => {
  for (const make of [toFirst, toFar, toReturn]) {
    const [, columns, below] = parts(make(60)),
      [, later, lower] = parts(make(260))
    expect(later).toEqual(columns)
    expect(lower).toEqual(below)
  }
  const scrolled = 35,
    bus = (y: number) =>
      line(
        [
          [200, y],
          [240, y],
          [240, 520],
          [260, 520]
        ],
        true
      )
  expect(inColumns(bus(100 - scrolled), regions(scrolled))).toEqual(inColumns(bus(100), regions()))
  expect(inColumns(bus(100), regions())[0]!.points.at(-1)!.y).toBe(920)
  expect(inBelow(bus(100 - scrolled), regions(scrolled))).toEqual(inBelow(bus(100), regions()))
})

it('a send to a return leaves downwards and comes in from above', () => {
  const [gutter, columns, below] = parts(toReturn(60))
  expect(gutter![0]!.slice(0, 3)).toEqual([
    [0, 40],
    [10, 40],
    [10, 486]
  ])
  expect(columns).toEqual([])
  const [first, second, ...rest] = below![0]!
  expect([first![1], second]).toEqual([-20, [110, -20]])
  expect(rest).toEqual([
    [110, 6],
    [40, 6],
    [40, 30],
    [60, 30]
  ])
})

it('every point of a line is drawn where it lies, in the part that it lies in', () => {
  const all: [number, number][] = [
    [100, 60],
    [120, 60],
    [120, 400],
    [180, 400],
    [180, 520],
    [90, 520]
  ]
  const l = line(all, true),
    r = regions(7)
  const inside = (p: Point, from: Drawn[], dx: number, dy: number) =>
    from.some(d => d.points.some(q => q.x + dx === p.x && q.y + dy === p.y))
  for (const p of l.points) {
    if (p.low) expect(inside(p, inBelow(l, r), 0, r.below)).toBe(true)
    else if (p.x >= r.gutter.right) expect(inside(p, inColumns(l, r), r.gutter.right, -r.busScroll)).toBe(true)
    else expect(inside(p, inGutter(l, r), r.gutter.left, r.top)).toBe(true)
  }
})

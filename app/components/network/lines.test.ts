import { expect, it } from 'vitest'
import { drawingOf, sameDrawing, wayOf, type Drawn } from './lines'

const line = (id: string, more: Partial<Drawn> & { kind?: Drawn['feed']['kind'] } = {}): Drawn => ({
  feed: { id, kind: more.kind ?? 'main' },
  points: [
    { x: 0, y: 0 },
    { x: 40, y: 20 }
  ],
  lit: false,
  dimmed: false,
  closed: false,
  straight: false,
  ...more
})

it('a curve leaves and comes in level; the same height is a straight line', () => {
  expect(wayOf(line('a'))).toBe('M0 0C20 0 20 20 40 20')
  expect(
    wayOf({
      points: [
        { x: 0, y: 5 },
        { x: 40, y: 5 }
      ],
      straight: false
    })
  ).toBe('M0 5L40 5')
})

it('right angles turn within five pixels, or half of what there is', () => {
  const way = (y: number) =>
    wayOf({
      points: [
        { x: 0, y: 0 },
        { x: 20, y: 0 },
        { x: 20, y },
        { x: 60, y }
      ],
      straight: true
    })
  expect(way(50)).toBe('M0 0L15 0Q20 0 20 5L20 45Q20 50 25 50L60 50')
  expect(way(6)).toBe('M0 0L17 0Q20 0 20 3L20 3Q20 6 23 6L60 6')
  // Nowhere to turn: as far as there is room.
  expect(way(0)).not.toContain('NaN')
})

it('what looks alike is one path; what is dashed stays apart, and a key ends in a diamond', () => {
  const lines = [
    line('a'),
    line('b'),
    line('c', { lit: true }),
    line('s', { kind: 'send' }),
    line('k', { kind: 'key' })
  ]
  const { paths } = drawingOf(lines)
  expect(paths.map(p => [p.key, p.look])).toEqual([
    ['main', 'main'],
    ['s', 'send'],
    ['k', 'key'],
    ['end key', 'end key'],
    ['main lit', 'main lit']
  ])
  expect(paths[0]!.d).toBe(wayOf(lines[0]!) + wayOf(lines[1]!))
  expect(paths[3]!.d).toBe('M35 20L39 16L43 20L39 24Z')
})

it('what comes and goes stays apart from what stays', () => {
  const { paths } = drawingOf([line('a'), line('p', { passing: true }), line('b')])
  expect(paths.map(p => p.key)).toEqual(['main', 'p'])
})

it('closed ones look closed, whether dimmed or not', () => {
  const looks = drawingOf([line('a', { closed: true, dimmed: true }), line('b', { dimmed: true })]).paths
  expect(looks.map(p => p.look)).toEqual(['main closed', 'main dimmed'])
})

it('beyond 160 lines nothing is dashed; beyond 40 labels none is shown', () => {
  const many = (count: number) =>
    Array.from({ length: count }, (_, i) => line(`${i}`, { kind: 'send', lit: true, label: '−3.0' }))
  expect(drawingOf(many(160)).paths).toHaveLength(160)
  const crowd = drawingOf(many(161))
  expect(crowd.paths.map(p => p.look)).toEqual(['send lit crowded'])
  expect(crowd.labels).toEqual([])
  expect(drawingOf(many(40)).labels[7]).toEqual({ key: '7', text: '−3.0', at: { x: 20, y: 10 } })
  expect(drawingOf(many(41)).labels).toEqual([])
})

it('two drawings are the same where all that they show is', () => {
  const of = (more: Partial<Drawn> = {}) => drawingOf([line('a'), line('b', { lit: true, label: '1.0', ...more })])
  expect(sameDrawing(of(), of())).toBe(true)
  for (const more of [
    { label: '2.0' },
    { lit: false },
    { closed: true },
    { straight: true },
    {
      points: [
        { x: 0, y: 0 },
        { x: 40, y: 21 }
      ]
    }
  ])
    expect(sameDrawing(of(), of(more)), JSON.stringify(more)).toBe(false)
})

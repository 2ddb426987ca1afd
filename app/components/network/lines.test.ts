import { expect, it } from 'vitest'
import type { Feed } from '@nullet/core/session/rows'
import { drawingOf, feedLabels, sameLines, wayOf, type Drawn } from './lines'

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

it('beyond 160 lines nothing is dashed', () => {
  const many = (count: number) => Array.from({ length: count }, (_, i) => line(`${i}`, { kind: 'send' }))
  expect(drawingOf(many(160)).paths).toHaveLength(160)
  expect(drawingOf(many(161)).paths.map(p => p.look)).toEqual(['send crowded'])
})

it('labels stand in the middle; a main feed at 0 dB has none, nor have more than 40', () => {
  const feed = (id: string, levelDb: number | null, kind = 'send') => ({ id, kind, levelDb }) as Feed
  expect([...feedLabels([feed('a', -3), feed('m', 0, 'main'), undefined, feed('n', 1.25, 'main')])]).toEqual([
    ['a', '−3.0'],
    ['n', '+1.3']
  ])
  expect(feedLabels([feed('off', null)]).get('off')).toBe('−∞')
  const many = (count: number) => feedLabels(Array.from({ length: count }, (_, i) => feed(`${i}`, -3))).size
  expect([many(40), many(41)]).toEqual([40, 0])
  const { labels } = drawingOf([line('plain'), line('7', { lit: true, label: '−3.0' })])
  expect(labels).toEqual([{ key: '7', text: '−3.0', at: { x: 20, y: 10 } }])
})

it('lines look the same where all that shows of them is', () => {
  const of = (more: Parameters<typeof line>[1] = {}, id = 'b') => [
    line('a'),
    line(id, { lit: true, label: '1.0', ...more })
  ]
  expect(sameLines(of(), of())).toBe(true)
  expect(sameLines(of(), of({}, 'c'))).toBe(false)
  expect(sameLines(of(), of().slice(1))).toBe(false)
  const others: Parameters<typeof line>[1][] = [
    { label: '2.0' },
    { lit: false },
    { closed: true },
    { straight: true },
    { dimmed: true },
    { passing: true },
    { kind: 'send' },
    { points: of()[1]!.points.slice(1) },
    {
      points: [
        { x: 0, y: 0 },
        { x: 40, y: 21 }
      ]
    }
  ]
  for (const more of others) expect(sameLines(of(), of(more)), JSON.stringify(more)).toBe(false)
})

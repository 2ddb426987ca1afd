// Heights and ways on the Map, worked out by hand: strips are 32 high, 3 apart, a lane is 8.
import { describe, expect, it } from 'vitest'
import { branching } from '../testing/branching'
import { Sketch } from '../testing/sketch'
import { mapLayout, type MapOptions } from './mapLayout'
import { Network } from './network'

const layout = (k: Sketch, options: Partial<MapOptions> = {}) =>
  mapLayout(new Network(k.session), { folded: new Set(), row: 32, gap: 3, lane: 8, ...options })
type Layout = ReturnType<typeof layout>
const heights = (m: Layout) => Object.fromEntries(m.strips.map(s => [s.id, Math.round(s.y * 100) / 100]))
const lines = (m: Layout) =>
  m.lines.map(l => `${l.feed.kind} ${l.from} → ${l.to}${l.via.map(v => ` | ${v.column} at ${v.y}`).join('')}`)

/** Four tracks in a row that lead to buses. */
function four(feeds: [from: string, to: string][]): Sketch {
  const k = new Sketch()
  for (const id of ['x', 'z']) if (!feeds.length || feeds.some(([, to]) => to === id)) k.bus(id)
  for (const id of ['a', 'b', 'c', 'd']) k.track(id)
  for (const [from, to] of feeds) k.main(from, to)
  return k
}

describe('strips', () => {
  it('lie at the middle one of what feeds them, lines that pass a column in lanes', () => {
    const m = layout(branching())
    // The main: between its lane (121) and the stem (51).
    expect(heights(m)).toEqual({ a: 0, b: 35, c: 70, voice: 105, drums: 35, stem: 35, main: 70 })
    expect(lines(m)).toEqual([
      'main stem → main',
      'main drums → stem',
      'main hall → main',
      'main a → drums',
      'send a → hall',
      'main b → drums',
      'main c → drums',
      'main voice → main | 1 at 121 | 2 at 121'
    ])
    expect(m.bundles).toEqual([
      { to: 'drums', members: ['a', 'b', 'c'], folded: false, y: 0, height: 102 },
      { to: 'main', members: ['voice'], folded: false, y: 105, height: 32 }
    ])
    expect([m.trackHeight, m.busHeight]).toEqual([137, 125])
    expect(m.columns.map(c => c.title)).toEqual(['Tracks', 'Submixes', 'Stems', 'Main'])
  })

  it('that want one place lie around it, in the order of their wishes', () => {
    expect(
      heights(
        layout(
          four([
            ['c', 'x'],
            ['c', 'z']
          ])
        )
      )
    ).toMatchObject({ x: 87.5, z: 122.5 })
    expect(
      heights(
        layout(
          four([
            ['a', 'x'],
            ['a', 'z']
          ])
        )
      )
    ).toMatchObject({ x: 0, z: 35 })
    expect(
      heights(
        layout(
          four([
            ['d', 'x'],
            ['a', 'z']
          ])
        )
      )
    ).toMatchObject({ x: 105, z: 0 })
    // Without anything that feeds them they begin at the top.
    expect(heights(layout(four([])))).toMatchObject({ x: 0, z: 35 })
  })

  it('follow where most comes from: of an even number the middle between two', () => {
    expect(
      heights(
        layout(
          four([
            ['a', 'x'],
            ['d', 'x'],
            ['c', 'x']
          ])
        )
      )
    ).toMatchObject({ x: 35 })
    expect(
      heights(
        layout(
          four([
            ['a', 'x'],
            ['d', 'x']
          ])
        )
      )
    ).toMatchObject({ x: 17.5 })
    const k = four([
      ['a', 'x'],
      ['b', 'x'],
      ['d', 'z']
    ])
    k.bus('m', { role: 'main' })
    k.main('z', 'm')
    k.main('x', 'm')
    // Two come through x, one through z.
    expect(heights(layout(k))).toMatchObject({ x: 17.5, z: 105, m: 17.5 })
  })

  it('stay within the height that there is as far as they have room', () => {
    const k = four([
      ['c', 'x'],
      ['c', 'z']
    ])
    expect(heights(layout(k, { fit: 1000 }))).toMatchObject({ x: 87.5, z: 122.5 })
    expect(heights(layout(k, { fit: 100 }))).toMatchObject({ x: 33, z: 68 })
    expect(heights(layout(k, { fit: 80 }))).toMatchObject({ x: 13, z: 48 })
    expect(heights(layout(k, { fit: 20 }))).toMatchObject({ x: 0, z: 35 })
    expect(
      heights(
        layout(
          four([
            ['a', 'x'],
            ['d', 'z']
          ]),
          { fit: 60 }
        )
      )
    ).toMatchObject({ x: 0, z: 35 })
    expect(layout(k, { fit: 80 }).busHeight).toBe(80)
    // Tracks that are higher than that count as if they were drawn closer together: 51 · 100 / 137 − 16.
    const three = ['a', 'b', 'c'].map((id): [string, string] => [id, 'x'])
    expect(heights(layout(four(three), { fit: 100 }))).toMatchObject({ x: 21.23 })
  })
})

describe('columns', () => {
  it('are named by what lies in them', () => {
    expect(layout(new Sketch()).columns.map(c => c.title)).toEqual(['Tracks', 'Main'])
    const k = four([
      ['a', 'x'],
      ['b', 'z']
    ])
    k.bus('m', { role: 'main' })
    k.main('x', 'z')
    k.main('z', 'm')
    const m = layout(k)
    expect(m.columns.map(c => c.title)).toEqual(['Tracks', 'Submixes 1', 'Submixes 2', 'Main'])
    expect(Object.fromEntries(m.strips.map(s => [s.id, s.column]))).toMatchObject({ a: 0, x: 1, z: 2, m: 3 })
  })
  it('have their strips in the order of the session', () => {
    const k = new Sketch()
    k.track('late', undefined, { order: 'b' })
    k.track('early', undefined, { order: 'a' })
    expect(heights(layout(k))).toEqual({ early: 0, late: 35 })
  })
  it('of nothing have no height', () => {
    const m = layout(new Sketch())
    expect([m.trackHeight, m.busHeight, m.strips, m.bundles, m.lines]).toEqual([0, 0, [], [], []])
  })
})

describe('bundles', () => {
  it('that are folded are one strip, with the lines of all of them drawn once', () => {
    const k = branching()
    k.send('b', 'hall', -6)
    const m = layout(k, { folded: new Set(['drums', 'main']) })
    expect(m.strips.filter(s => s.column === 0)).toEqual([
      { id: 'a', column: 0, y: 0, count: 3, members: ['a', 'b', 'c'] },
      { id: 'voice', column: 0, y: 35 }
    ])
    expect(m.bundles).toEqual([
      { to: 'drums', members: ['a', 'b', 'c'], folded: true, y: 0, height: 32 },
      { to: 'main', members: ['voice'], folded: false, y: 35, height: 32 }
    ])
    expect(lines(m).filter(l => / a |voice/.test(l))).toEqual([
      'main a → drums',
      'send a → hall',
      'main voice → main | 1 at 51 | 2 at 51'
    ])
  })
  it('of tracks that lead nowhere do not fold, nor where something is looked for', () => {
    const k = four([])
    const m = layout(k, { folded: new Set(['']) })
    expect(m.bundles).toEqual([{ to: '', members: ['a', 'b', 'c', 'd'], folded: false, y: 0, height: 137 }])
    const found = layout(branching(), { folded: new Set(['drums']), only: new Set(['a', 'b', 'drums']) })
    expect(found.strips.map(s => s.id)).toEqual(['a', 'b', 'drums'])
    expect(lines(found)).toEqual(['main a → drums', 'send a → hall', 'main b → drums'])
  })
  it('go by the first main feed, and not by a send', () => {
    const k = four([])
    k.send('a', 'z', -3, 'post', { id: '0' })
    k.main('a', 'x', { id: '1' })
    expect(layout(k).bundles.map(b => [b.to, b.members])).toEqual([
      ['x', ['a']],
      ['', ['b', 'c', 'd']]
    ])
  })
})

describe('lines', () => {
  it('of keys take lanes of their own, beside those of audio to the same strip', () => {
    const k = branching()
    k.add('slot', { id: 's', channel: 'main', processor: 'compressor' })
    k.add('feed', { id: 'key', kind: 'key', from: 'b', slot: 's' })
    const m = layout(k)
    const key = m.lines.find(l => l.feed.kind === 'key')!,
      voice = m.lines.find(l => l.from === 'voice')!
    expect([key.from, key.to, key.via.map(v => v.column)]).toEqual(['b', 'main', [1, 2]])
    // The key's lane and the strip of the submix both want the height of the second track.
    expect(key.via[0]!.y).not.toBe(voice.via[0]!.y)
    k.add('feed', { id: 'lost', kind: 'key', from: 'b', slot: 'gone' })
    expect(layout(k).lines).toHaveLength(m.lines.length)
  })
  it('to one strip share a lane, at the middle of where they come from', () => {
    const k = branching()
    k.main(k.track('second'), 'main')
    expect(lines(layout(k)).slice(-2)).toEqual([
      'main voice → main | 1 at 138.5 | 2 at 138.5',
      'main second → main | 1 at 138.5 | 2 at 138.5'
    ])
  })
  it('back to an earlier column, and to and from returns, take none', () => {
    const k = branching()
    k.add('slot', { id: 's', channel: 'drums', processor: 'compressor' })
    k.add('feed', { id: 'key', kind: 'key', from: 'main', slot: 's' })
    k.send('main', 'hall', -6, 'post', { id: 'zz' })
    expect(
      layout(k)
        .lines.filter(l => l.from === 'main')
        .map(l => [l.to, l.via])
    ).toEqual([
      ['drums', []],
      ['hall', []]
    ])
  })
})

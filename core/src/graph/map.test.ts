// Where things are drawn, and why something cannot be heard.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { branching } from '../testing/branching'
import { rows, type Session } from '../session/session'
import { mapLayout, type MapOptions } from './mapLayout'
import { Network } from './network'
import { whySilent } from './whySilent'

const OPTIONS: MapOptions = { folded: new Set(), row: 32, gap: 3, lane: 8 }

const layout = (s: Session, options: Partial<MapOptions> = {}) => mapLayout(new Network(s), { ...OPTIONS, ...options })

describe('the Map', () => {
  it('puts tracks, submixes, stems and mains in columns from left to right, returns in none', () => {
    const m = layout(branching().session)
    const column = Object.fromEntries(m.strips.map(s => [s.id, s.column]))
    expect(column).toEqual({ a: 0, b: 0, c: 0, voice: 0, drums: 1, stem: 2, main: 3 })
    expect(m.columns.map(c => c.title)).toEqual(['Tracks', 'Submixes', 'Stems', 'Main'])
    expect(m.returns).toEqual(['hall'])
  })

  it('never lets strips touch, nor a line run under one', () => {
    const k = branching()
    for (let i = 0; i < 30; i++) {
      k.bus(`x${i}`)
      k.main(`x${i}`, i % 2 ? 'stem' : 'main')
    }
    const m = layout(k.session)
    for (let column = 0; column < m.columns.length; column++) {
      const here = m.strips.filter(s => s.column === column).sort((a, b) => a.y - b.y)
      here.forEach((s, i) => {
        if (i) expect(s.y).toBeGreaterThanOrEqual(here[i - 1].y + OPTIONS.row + OPTIONS.gap - 1e-6)
      })
    }
    for (const line of m.lines) {
      for (const via of line.via) {
        for (const s of m.strips.filter(s => s.column === via.column))
          expect(via.y <= s.y || via.y >= s.y + OPTIONS.row).toBe(true)
      }
    }
  })

  it('folds tracks that share a destination into one line with their number', () => {
    const m = layout(branching().session, { folded: new Set(['drums']) })
    expect(m.strips.filter(s => s.column === 0).map(s => [s.id, s.count ?? 1])).toEqual([
      ['a', 3],
      ['voice', 1]
    ])
    expect(m.lines.filter(l => l.to === 'drums')).toHaveLength(1)
  })

  it('a filter unfolds and keeps only what it found', () => {
    const m = layout(branching().session, { folded: new Set(['drums']), only: new Set(['b', 'drums', 'stem', 'main']) })
    expect(m.strips.map(s => s.id).sort()).toEqual(['b', 'drums', 'main', 'stem'])
  })

  it('keeps buses within the height there is, however many tracks there are', () => {
    const k = branching()
    for (let i = 0; i < 150; i++) {
      k.medium(`n${i}`, 1, 10)
      k.track(`n${i}`, `n${i}`)
      k.main(`n${i}`, i % 3 ? 'drums' : 'stem')
    }
    const m = layout(k.session, { fit: 500 })
    expect(m.trackHeight).toBeGreaterThan(5000)
    expect(m.busHeight).toBeLessThanOrEqual(500)
  })

  it('places submixes of submixes in columns of their own, 32 deep', () => {
    const k = branching()
    for (let i = 0; i < 32; i++) {
      k.bus(`deep${i}`)
      if (i) k.main(`deep${i - 1}`, `deep${i}`)
    }
    expect(layout(k.session).columns.length).toBeGreaterThanOrEqual(34)
  })
})

describe('why something is silent', () => {
  const changed = (...edits: [string, unknown][]) =>
    edits.reduce((s, [verb, args]) => applyEdit(s, { verb, args }).session, branching().session)
  const causes = (s: Session, id = 'a') => whySilent(s, id).map(c => c.sentence)
  const set = (id: string, fields: object): [string, unknown] => ['setChannels', { ids: [id], fields }]

  it('says nothing where nothing is wrong', () => {
    for (const c of rows(branching().session, 'channel')) expect(causes(branching().session, c.id)).toEqual([])
  })

  it.each([
    ['muted', [set('a', { muted: true })], ['“a” is muted.']],
    ['at −∞', [set('drums', { levelDb: null })], ['The level of “drums” is at −∞.']],
    ['parked', [set('stem', { parked: true })], ['“stem” is parked.']],
    [
      'without a feed',
      [['setMainFeed', { ids: ['drums'], to: null, feedIds: [] }]],
      ['“drums” has no main feed: it leads nowhere.']
    ],
    ['something else soloed', [set('voice', { soloed: true })], ['Something else is soloed: “voice”.']],
    [
      'several at once, the nearest first',
      [set('main', { muted: true }), set('a', { levelDb: null }), set('drums', { muted: true })],
      ['The level of “a” is at −∞.', '“drums” is muted.', '“main” is muted.']
    ]
  ] as [string, [string, unknown][], string[]][])('%s', (_, edits, wanted) => {
    expect(causes(changed(...edits))).toEqual(wanted)
  })

  it('each fix takes its cause away', () => {
    const s = changed(
      set('main', { muted: true }),
      set('a', { levelDb: null, trimDb: null }),
      set('voice', { soloed: true })
    )
    let now = s
    for (let left = whySilent(now, 'a'); left.length; left = whySilent(now, 'a')) {
      const before = left.length
      now = applyEdit(now, left[0].fix!.edit).session
      expect(whySilent(now, 'a').length).toBeLessThan(before)
    }
  })

  it('a track without a clip and a bus that nothing feeds are named', () => {
    const k = branching()
    k.track('empty')
    k.main('empty', 'main')
    k.bus('lonely')
    k.main('lonely', 'main')
    expect(causes(k.session, 'empty')).toEqual(['“empty” has no clip.'])
    expect(causes(k.session, 'lonely')).toEqual(['Nothing feeds “lonely”.'])
  })
})

import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { Dice, generatedNetwork } from '../testing/generated'
import { generatedEdit } from '../testing/generatedEdits'
import { Sketch } from '../testing/sketch'
import { changesHash } from './changesHash'
import { channelNamed } from './find'
import { derivedId, isId, LONGEST_ID } from './ids'
import { layoutName, layoutOf, LAYOUTS, widest } from './layouts'
import {
  asSession,
  byId,
  byOrder,
  clipLength,
  difference,
  emptySession,
  hasSource,
  heardClips,
  inverse,
  isHeardPrint,
  makeRow,
  printOn,
  rowOf,
  rows,
  settings,
  slotsOf,
  takesOf,
  withChanges,
  type Session
} from './session'

/** A session and what a generated edit makes of it; edits that are refused are left out. */
function* edited(seeds: number): Generator<{ seed: number; before: Session; after: Session }> {
  for (let seed = 1; seed <= seeds; seed++) {
    const dice = new Dice(seed)
    let before = generatedNetwork(seed, { tracks: 6, submixes: 2, returns: 1, stems: 2, sends: 2, keys: 1 }).session,
      serial = 0
    for (let n = 0; n < 6; n++) {
      const edit = generatedEdit(dice, before, () => `made-${seed}-${serial++}`)
      try {
        const after = applyEdit(before, edit).session
        yield { seed, before, after }
        before = after
      } catch {
        // Refused: another one.
      }
    }
  }
}

describe('what differs between two sessions', () => {
  it('makes one of the other, and back; equal sessions differ in nothing', () => {
    let seen = 0
    for (const { before, after } of edited(30)) {
      const changes = difference(before, after)
      seen += changes.length
      expect(withChanges(before, changes)).toEqual(after)
      expect(withChanges(after, inverse(changes))).toEqual(before)
      expect(difference(after, after)).toEqual([])
      for (const c of changes) {
        expect(c.before).toBe((before[c.table] as Record<string, unknown>)[c.id] ?? null)
        expect(c.after).toBe((after[c.table] as Record<string, unknown>)[c.id] ?? null)
        expect(c.before).not.toBe(c.after)
      }
    }
    expect(seen).toBeGreaterThan(100)
  })

  it('tables that nothing changes are shared, and the one before is left as it was', () => {
    const k = new Sketch('Shared')
    k.bus('main')
    k.track('t')
    const before = k.session,
      kept = structuredClone(before)
    const row = { ...before.channel.t!, name: 'Other' }
    const after = withChanges(before, [{ table: 'channel', id: 't', before: before.channel.t, after: row }])
    expect(after.channel.t).toBe(row)
    expect(after.channel.main).toBe(before.channel.main)
    expect(after.feed).toBe(before.feed)
    expect(after.channel).not.toBe(before.channel)
    expect(before).toEqual(kept)
    expect(Object.getPrototypeOf(after.channel)).toBeNull()
    const without = withChanges(after, [{ table: 'channel', id: 't', before: row, after: null }])
    expect('t' in without.channel).toBe(false)
  })

  it('a removed row comes back in the order in which it went', () => {
    const [a, b] = [
      { table: 'channel', id: 'a', before: null, after: 1 },
      { table: 'channel', id: 'a', before: 1, after: null }
    ] as const
    expect(inverse([a, b])).toEqual([
      { table: 'channel', id: 'a', before: null, after: 1 },
      { table: 'channel', id: 'a', before: 1, after: null }
    ])
  })

  it('has one hash whatever order the changes are in, and another for any other row', () => {
    for (const { before, after } of edited(6)) {
      const changes = difference(before, after)
      expect(changesHash(changes.toReversed())).toBe(changesHash(changes))
      if (!changes.length) continue
      const other = changes.map((c, i) => (i ? c : { ...c, after: { another: 'row' } }))
      expect(changesHash(other)).not.toBe(changesHash(changes))
      expect(changesHash(changes.slice(1))).not.toBe(changesHash(changes))
      expect(changesHash(changes.map((c, i) => (i ? c : { ...c, id: 'elsewhere' })))).not.toBe(changesHash(changes))
    }
    expect(changesHash([])).toMatch(/^[0-9a-f]{16}$/)
  })
})

describe('a session in memory', () => {
  it('begins empty, with what is set, and without a prototype', () => {
    const s = emptySession('New', { sampleRate: 96000 })
    expect(settings(s)).toMatchObject({ name: 'New', sampleRate: 96000 })
    expect(rows(s, 'channel')).toEqual([])
    expect(s.channel['constructor']).toBeUndefined()
    expect(
      asSession({
        channel: { a: makeRow('channel', { id: 'a', name: 'A', kind: 'track', role: 'track', layout: ['M'] }) }
      }).channel.a!.name
    ).toBe('A')
    expect(() => makeRow('channel', { id: 'a' })).toThrow()
  })

  it('a row that is not there is said by table and id', () => {
    const s = emptySession('New')
    expect(() => rowOf(s, 'unit', 'amp')).toThrow('There is no unit “amp”, though something refers to it')
    expect(() => settings(asSession({}))).toThrow(/session “session”/)
  })

  it('has orders that compare by code unit, ties by id', () => {
    const list = [
      { order: 'b', id: '1' },
      { order: 'B', id: '2' },
      { order: 'a', id: '4' },
      { order: 'a', id: '3' }
    ]
    expect(list.toSorted(byOrder).map(r => r.id)).toEqual(['2', '3', '4', '1'])
    expect(byOrder(list[0]!, list[0]!)).toBe(0)
    expect(list.toSorted(byId).map(r => r.id)).toEqual(['1', '2', '3', '4'])
    expect([byId({ id: 'a' }, { id: 'a' }), byId({ id: 'a' }, { id: 'b' }), byId({ id: 'b' }, { id: 'a' })]).toEqual([
      0, -1, 1
    ])
  })
})

describe('takes, clips and prints', () => {
  function takes(): Sketch {
    const k = new Sketch('Takes')
    k.medium('m', 1, 1000)
    k.track('t', 'm', { layout: ['M'] })
    k.add('take', { id: 'two', channel: 't', name: 'Two', order: 'b' })
    k.add('take', { id: 'one', channel: 't', name: 'One', order: 'a' })
    k.add('clip', { id: 'c1', channel: 't', medium: 'm', take: 'one', offsetFrames: 200 })
    k.add('clip', { id: 'c2', channel: 't', medium: 'm', take: 'two', offsetFrames: 200, frames: 300 })
    k.add('print', { id: 'p2', channel: 't', tap: 'pre', source: null, clip: 'c2' })
    k.add('print', { id: 'p1', channel: 't', tap: 'pre', source: 'x', clip: 'c1' })
    k.session.channel.t!.take = 'one'
    return k
  }

  it('what lies in no take and in the one that is heard sounds, nothing else', () => {
    const { session } = takes()
    expect(heardClips(session).map(c => c.id)).toEqual(['t-clip', 'c1'])
    session.channel.t!.take = null
    expect(heardClips(session).map(c => c.id)).toEqual(['t-clip'])
    expect(takesOf(session, 't').map(t => t.id)).toEqual(['one', 'two'])
    expect(takesOf(session, 'nobody')).toEqual([])
  })

  it('a clip plays as much as it says, or what its audio has left', () => {
    const { session } = takes()
    expect(['t-clip', 'c1', 'c2'].map(id => clipLength(session, session.clip[id]!))).toEqual([1000, 800, 300])
  })

  it('a track holds the print of the take that is heard; of two the first by id', () => {
    const k = takes()
    expect(printOn(k.session, 't')!.id).toBe('p1')
    k.session.channel.t!.take = 'two'
    expect(printOn(k.session, 't')!.id).toBe('p2')
    k.session.channel.t!.take = null
    expect(printOn(k.session, 't')).toBeUndefined()
    k.add('print', { id: 'p0', channel: 't', tap: 'pre', source: 'x', clip: null })
    k.add('print', { id: 'a', channel: 'other', tap: 'pre', source: 'x', clip: null })
    expect(printOn(k.session, 't')!.id).toBe('p0')
    expect(isHeardPrint(k.session, { ...k.session.print.p1!, clip: 'gone' })).toBe(true)
    expect(isHeardPrint(k.session, k.session.print.p1!)).toBe(false)
  })

  it('a print has its source where it is all of it and still there', () => {
    const { session } = takes(),
      print = session.print.p1!
    expect(hasSource(print)).toBe(true)
    expect(hasSource({ ...print, share: 'stem' })).toBe(false)
    expect(hasSource(session.print.p2!)).toBe(false)
  })

  it('slots of a channel come in their order', () => {
    const k = new Sketch('Slots')
    k.track('t')
    k.track('u')
    for (const [id, order] of [
      ['x', 'c'],
      ['y', 'a'],
      ['z', 'b']
    ] as const)
      k.add('slot', { id, channel: 't', processor: 'gain', order })
    k.add('slot', { id: 'w', channel: 'u', processor: 'gain', order: 'a' })
    expect(slotsOf(k.session, 't').map(s => s.id)).toEqual(['y', 'z', 'x'])
  })
})

describe('ids', () => {
  it('are of letters that mean nothing to a program, and not longer than they may be', () => {
    for (const id of ['a', 'A9', '0', 'a_b.c:d/e+f~g-h', 'x'.repeat(LONGEST_ID)]) expect(isId(id), id).toBe(true)
    for (const id of ['', '_a', '.', '..', '__proto__', 'a b', 'ä', 'a\n', '-a', 'x'.repeat(LONGEST_ID + 1)])
      expect(isId(id), id).toBe(false)
  })

  it('of copies are readable while they are short, and never too long', () => {
    expect(derivedId('print', 'slot')).toBe('print/slot')
    expect(derivedId('p'.repeat(49), 's'.repeat(50))).toBe(`${'p'.repeat(49)}/${'s'.repeat(50)}`)
    expect(derivedId('p'.repeat(50), 's'.repeat(50))).toMatch(/^p{50}\/[0-9a-f]{16}$/)
    let id = 'slot'
    const seen = new Set<string>()
    for (let n = 0; n < 40; n++) {
      id = derivedId('a-rather-long-owner-of-a-copy', id)
      expect(isId(id)).toBe(true)
      seen.add(id)
    }
    expect(seen.size).toBe(40)
    expect(derivedId('o', 's'.repeat(150))).not.toBe(derivedId('o', `${'s'.repeat(149)}t`))
  })
})

describe('layouts', () => {
  it('have names, also those that are in no table', () => {
    for (const [name, labels] of Object.entries(LAYOUTS)) expect(layoutName(labels)).toBe(name)
    expect(layoutName(['L'])).toBe('mono')
    expect(layoutName(['1', '2', '3', '4', '5', '6', '7'])).toBe('7 legs')
    expect(layoutName(['R', 'L'])).toBe('2 legs')
  })

  it('of so many legs are the first of the table, or numbers', () => {
    expect([1, 2, 3, 4, 5, 6].map(layoutOf)).toEqual([
      ['M'],
      ['L', 'R'],
      ['L', 'R', 'C'],
      ['L', 'R', 'Ls', 'Rs'],
      ['L', 'R', 'C', 'Ls', 'Rs'],
      ['L', 'R', 'C', 'LFE', 'Ls', 'Rs']
    ])
    expect(layoutOf(7)).toEqual(['1', '2', '3', '4', '5', '6', '7'])
  })

  it('the widest is a list of its own, stereo where there is none', () => {
    const quad = LAYOUTS.quad!,
      given = [['M'], quad, ['L', 'R']]
    expect(widest(given)).toEqual(quad)
    expect(widest(given)).not.toBe(quad)
    expect(given).toEqual([['M'], quad, ['L', 'R']])
    expect(widest([])).toEqual(['L', 'R'])
  })
})

describe('a channel by what people call it', () => {
  const k = new Sketch('Names')
  for (const [id, name] of [
    ['a', 'Kora'],
    ['b', 'kora'],
    ['c', 'Drums'],
    ['Lake', 'Water'],
    ['d', 'Twin'],
    ['e', 'Twin']
  ] as const)
    k.track(id, undefined, { name })
  it('is found by id, by name, by name whatever its letters', () => {
    const id = (text: string) => channelNamed(k.session, text).id
    expect(['Lake', 'Kora', 'kora', 'drums', 'DRUMS', 'water'].map(id)).toEqual(['Lake', 'a', 'b', 'c', 'c', 'Lake'])
  })
  it('where several fit or none, is refused with those that there are', () => {
    expect(() => channelNamed(k.session, 'Twin')).toThrow('“Twin” is 2 channels: d, e. Say which by its id.')
    expect(() => channelNamed(k.session, 'KORA')).toThrow('“KORA” is 2 channels: a, b.')
    expect(() => channelNamed(k.session, 'Flute')).toThrow(
      'There is no channel “Flute”. There are: Kora, kora, Drums, Water, Twin, Twin'
    )
  })
})

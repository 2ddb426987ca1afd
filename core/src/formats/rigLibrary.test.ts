// The rig library: an entry is copied into a session, differs from it in time, and is made the same again either way.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { readRig, takeRig } from './rig'
import { firstBreach } from '../invariants'
import { fingerprint } from '../print/fingerprint'
import { READY_RIGS, rigRows } from '../rig/readyRigs'
import { inside, outside, rowsOfRig } from '../session/rigRows'
import { emptySession, inverse, withChanges, type Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { layRig, rigDifference } from './rigLibrary'

const step = (s: Session, verb: string, args: object) => applyEdit(s, { verb, args })
const room = READY_RIGS[0]!
const entryOf = (session: Session, rig: string, name = 'Entry') => readRig(JSON.stringify(takeRig(session, rig, name)))

/** A session that has the re-amp room as rig `home`. */
function start(): Session {
  return step(emptySession('Own'), 'addRows', { label: 'Rig', rows: rigRows(room, 'home', 'a0') }).session
}

describe('an entry', () => {
  it('holds the rows of its room without anything of the session, and is read as it was written', () => {
    const entry = entryOf(start(), 'home')
    expect(entry.rows.unit.map(u => [u.id, u.rig, u.name])).toEqual([
      ['unit-1', 'rig', 'Tube amplifier'],
      ['unit-2', 'rig', 'Valve compressor']
    ])
    expect(JSON.stringify(entry)).not.toContain('home')
    expect(readRig(JSON.stringify(entry))).toEqual(entry)
  })

  it('laid over another session is the same room there, also twice, each with cables of its own', () => {
    const entry = entryOf(start(), 'home', 'Loft')
    let other: Session = emptySession('Other')
    for (const id of ['one', 'two']) {
      const { verb, args } = layRig(entry, 'e1', other, id, id)
      other = step(other, verb, args as object).session
    }
    expect(firstBreach(other)).toBeNull()
    expect(other.session.session!.rig).toBe('one')
    expect(other.rig.two).toMatchObject({ name: 'Loft', entry: 'e1' })
    expect(outside(other, 'one')).toEqual(outside(other, 'two'))
    expect(outside(other, 'one')).toEqual(entry.rows)
    expect(rigDifference(entry, other, 'one').lines).toEqual([])
  })

  it('of a session with units that came later is taken and laid as well', () => {
    const s = step(start(), 'setUnit', {
      id: 'k3x9',
      rig: 'home',
      fields: { name: 'Deck', model: 'tape-deck', order: 'z' }
    }).session
    const entry = entryOf(s, 'home')
    expect(entry.rows.unit.map(u => u.id)).toContain('k3x9')
    expect(rigDifference(entry, s, 'home').lines).toEqual([])
  })

  it.each([
    ['no JSON', 'x', /it is not JSON/],
    ['another version', JSON.stringify({ nulletRig: 2, name: 'x', rows: {} }), /version/],
    [
      'a cable to nowhere',
      JSON.stringify({
        nulletRig: 1,
        name: 'x',
        rows: { cable: [{ id: 'c', rig: 'rig', fromPort: 'p', toPort: 'q' }] }
      }),
      /cannot be read: .*“?p/
    ],
    [
      'a unit of no kind',
      JSON.stringify({
        nulletRig: 1,
        name: 'x',
        rows: { unit: [{ id: 'u', rig: 'rig', name: 'U', model: 'toaster' }] }
      }),
      /toaster/
    ],
    [
      'the same id twice',
      JSON.stringify({
        nulletRig: 1,
        name: 'x',
        rows: { unit: ['a', 'b'].map(name => ({ id: 'u', rig: 'rig', name, model: 'wire' })) }
      }),
      /two of its units have the id “u”/
    ]
  ])('with %s is refused, which says why', (_, text, reason) => {
    expect(() => readRig(text)).toThrow(reason)
  })
})

describe('a session and the entry it was copied from', () => {
  it('that drifted apart are told by rows; taking over makes them the same, in one step that can be undone', () => {
    const entry = entryOf(start(), 'home')
    let s = step(start(), 'setUnit', { id: 'home-unit-1', fields: { settings: { driveDb: 30 } } }).session
    s = step(s, 'removeUnit', { id: 'home-unit-2' }).session
    s = step(s, 'setPort', { id: 'home-io-out-1', fields: { name: 'Left box' } }).session
    s = step(s, 'setUnit', { id: 'new', rig: 'home', fields: { name: 'Deck', model: 'tape-deck', order: 'z' } }).session
    const { lines, kept, takeOver } = rigDifference(entry, s, 'home')
    const said = lines.join('\n')
    for (const word of [
      /“Tube amplifier”: settings/,
      /unit “Valve compressor” comes/i,
      /Left box/,
      /unit “Deck” goes/i
    ])
      expect(said).toMatch(word)
    expect(lines).toHaveLength(8)
    expect(kept).toEqual([])
    const done = applyEdit(s, takeOver)
    expect(outside(done.session, 'home')).toEqual(entry.rows)
    expect(withChanges(done.session, inverse(done.changes))).toEqual(s)
    // The other way: the entry is written anew from the session, and then nothing differs.
    expect(rigDifference(entryOf(s, 'home'), s, 'home').lines).toEqual([])
  })

  it('a port that a loop uses is kept where the entry has none, and named', () => {
    const bare = rigRows({ ...READY_RIGS[2]!, outs: 2, ins: 2 }, 'bare', 'a0')
    const small = step(emptySession('Small'), 'addRows', { label: 'Rig', rows: bare }).session
    const s = step(start(), 'setLoop', {
      id: 'amp',
      rig: 'home',
      fields: { name: 'Amp', outPorts: ['home-io-out-5'], inPorts: ['home-io-in-5'] }
    }).session
    const { kept, takeOver } = rigDifference(entryOf(small, 'bare'), s, 'home')
    expect(kept.sort()).toEqual(['Line in 5', 'Line out 5'])
    const after = applyEdit(s, takeOver).session
    expect(firstBreach(after)).toBeNull()
    expect(rowsOfRig(after, 'home').port).toHaveLength(6)
  })

  it('names and notes of a room are no sound: a fingerprint through it stays', () => {
    const k = new Sketch()
    Object.assign(k.session, structuredClone(start()))
    k.medium('m', 1, 100)
    k.track('t', 'm')
    k.add('loop', { id: 'l', rig: 'home', name: 'L', outPorts: ['home-io-out-5'], inPorts: ['home-io-in-5'] })
    k.slot('t', 'loop', {}, { loop: 'l' })
    const print = (s: Session) => fingerprint(s, 't', 'post', { seed: 1, from: 0, frames: 100 }).hash
    const before = print(k.session)
    let s = step(k.session, 'setPort', { id: 'home-io-out-5', fields: { name: 'Amp room' } }).session
    s = step(s, 'setUnit', { id: 'home-unit-1', fields: { notes: 'bright switch up' } }).session
    s = step(s, 'setRig', { id: 'home', fields: { name: 'Cellar', entry: 'e' } }).session
    expect(print(s)).toBe(before)
    expect(print(step(s, 'setUnit', { id: 'home-unit-1', fields: { settings: { driveDb: 3 } } }).session)).not.toBe(
      before
    )
  })
})

describe('a rig', () => {
  it('that channels use is not removed, and they are named; one that nobody uses goes with its loops', () => {
    let s = step(start(), 'setSession', { rig: 'home' }).session
    s = step(s, 'createBus', { id: 'b', name: 'Plucked', order: 'a', role: 'submix', layout: ['L', 'R'] }).session
    s = step(s, 'addPortFeed', { feedId: 'f', channel: 'b', ports: ['home-io-out-1'], direction: 'out' }).session
    expect(() => step(s, 'removeRig', { id: 'home' })).toThrow(/used by “Plucked”.*It was kept/)
    s = step(s, 'removeFeeds', { ids: ['f'] }).session
    s = step(s, 'setLoop', {
      id: 'l',
      rig: 'home',
      fields: { name: 'L', outPorts: ['home-io-out-1'], inPorts: ['home-io-in-1'] }
    }).session
    const done = step(s, 'removeRig', { id: 'home' })
    expect(firstBreach(done.session)).toBeNull()
    expect(Object.keys(done.session.loop)).toEqual([])
    expect(Object.keys(done.session.port)).toEqual([])
    expect(done.session.session.session!.rig).toBeNull()
    expect(withChanges(done.session, inverse(done.changes))).toEqual(s)
  })
  it('never takes the ids of another one', () => {
    const s = start()
    const { verb, args } = layRig(entryOf(s, 'home'), 'e', s, 'second', 'z')
    const two = step(s, verb, args as object).session
    const stolen = inside(entryOf(s, 'home').rows, s, 'home').unit.map(row => ({ table: 'unit', row }))
    expect(() => step(two, 'matchRig', { id: 'second', from: 'x', rows: stolen })).toThrow(/in another rig/)
  })
})

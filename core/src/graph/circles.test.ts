import { describe, expect, it } from 'vitest'
import type { Row, TableName } from '../session/rows'
import { rows, type Session } from '../session/session'
import { Dice, generatedNetwork } from '../testing/generated'
import { times } from '../testing/lengths'
import { Sketch } from '../testing/sketch'
import { findCircle, mayCircle } from './circles'

function buses(...ids: string[]): Sketch {
  const k = new Sketch()
  ids.forEach(id => k.bus(id))
  return k
}

describe('a circle', () => {
  it('is told as the channels that it runs through, and not those on the way to it', () => {
    const k = buses('one', 'two', 'three', 'four')
    k.main('one', 'two')
    k.main('two', 'three')
    k.main('three', 'four')
    expect(findCircle(k.session)).toBeNull()
    k.send('four', 'two', -6)
    expect(findCircle(k.session)?.sort()).toEqual(['four', 'three', 'two'])
  })

  it('through any print of a track is one, in whatever order its rows came', () => {
    for (const order of [
      ['p', 'q'],
      ['q', 'p']
    ]) {
      const k = buses('one')
      k.track('t')
      const rows = { p: { source: 'one' }, q: { source: 't' } } as Record<string, { source: string }>
      for (const id of order) k.add('print', { id, channel: 't', tap: 'post', ...rows[id] })
      expect(findCircle(k.session), order.join()).toEqual(['t'])
    }
  })

  it('is none where two ways meet again', () => {
    const k = buses('from', 'left', 'right', 'to')
    for (const side of ['left', 'right']) {
      k.main('from', side)
      k.main(side, 'to')
    }
    expect(findCircle(k.session)).toBeNull()
  })

  it('runs through keys, whatever is muted or off', () => {
    const k = buses('one', 'two')
    k.main('one', 'two', { muted: true })
    const slot = k.slot('one', 'compressor', {}, { state: 'off' })
    k.key('two', slot, 'post', { levelDb: null })
    expect(findCircle(k.session)?.sort()).toEqual(['one', 'two'])
  })

  it('is none where a key is taken from before the slot that it steers', () => {
    const k = buses('one')
    k.key('one', k.slot('one', 'compressor'), 'input')
    expect(findCircle(k.session)).toBeNull()
    const late = buses('one')
    late.key('one', late.slot('one', 'compressor'), 'post')
    expect(findCircle(late.session)).toEqual(['one'])
  })

  it('runs through the rig, and is none where only cables meet', () => {
    const k = buses('one', 'two')
    k.rig('room')
    k.interface('desk', 'room', 2, 2)
    k.unit('a', 'room', 'wire')
    k.unit('b', 'room', 'wire')
    k.cable('room', 'a:0', 'b:0')
    k.cable('room', 'b:0', 'a:0')
    expect(findCircle(k.session)).toBeNull()
    k.cable('room', 'desk-out-1', 'a:1')
    k.cable('room', 'a:1', 'desk-in-1')
    k.main('two', 'one')
    k.add('feed', { id: 'out', kind: 'port', from: 'one', ports: ['desk-out-1'] })
    k.add('feed', { id: 'back', kind: 'input', to: 'two', ports: ['desk-in-1'] })
    expect(findCircle(k.session)?.sort()).toEqual(['one', 'two'])
  })
})

describe('what may have made a circle', () => {
  const PORTS = ['desk-out-1', 'desk-out-2', 'desk-in-1', 'desk-in-2']
  const touching =
    (table: TableName, id: string, session: Session) =>
    <T extends TableName>(asked: T): Row<T>[] =>
      asked === (table as string) ? [(session[table] as Record<string, Row<T>>)[id]!] : []

  /** One connection more, of any kind, between any two channels; what it makes touches one row. */
  function connected(k: Sketch, dice: Dice): [TableName, string] {
    const { session } = k
    const channels = Object.keys(session.channel),
      buses = channels.filter(c => session.channel[c]!.kind === 'bus'),
      tracks = channels.filter(c => session.channel[c]!.kind === 'track')
    const kinds: Record<string, () => [TableName, string]> = {
      main: () => ['feed', k.main(dice.pick(channels), dice.pick(buses))],
      send: () => ['feed', k.send(dice.pick(channels), dice.pick(buses), -6, dice.chance(0.5) ? 'input' : 'post')],
      key: () => [
        'feed',
        k.key(dice.pick(channels), dice.pick(rows(session, 'slot')).id, dice.pick(['input', 'pre', 'post']))
      ],
      print: () => [
        'print',
        k.add('print', {
          id: `p${rows(session, 'print').length}`,
          channel: dice.pick(tracks),
          source: dice.pick(channels),
          tap: 'post'
        })
      ],
      port: () => [
        'feed',
        k.add('feed', {
          id: `out${rows(session, 'feed').length}`,
          kind: 'port',
          from: dice.pick(channels),
          ports: [dice.pick(PORTS.slice(0, 2))]
        })
      ],
      input: () => [
        'feed',
        k.add('feed', {
          id: `in${rows(session, 'feed').length}`,
          kind: 'input',
          to: dice.pick(channels),
          ports: [dice.pick(PORTS.slice(2))]
        })
      ],
      slot: () => ['slot', k.slot(dice.pick(channels), 'compressor', {}, { afterFader: dice.chance(0.5) })],
      moved: () => {
        const slot = dice.pick(rows(session, 'slot'))
        session.slot[slot.id] = { ...slot, channel: dice.pick(channels), afterFader: dice.chance(0.5) }
        return ['slot', slot.id]
      }
    }
    return dice.pick(Object.values(kinds))()
  }

  it('is asked for less than is there, and never misses a circle', () => {
    let circles = 0,
      clear = 0
    for (let seed = 1; seed <= times(60, 600); seed++) {
      const dice = new Dice(seed)
      const k = generatedNetwork(seed, { tracks: 12, submixes: 6, returns: 3, stems: 2, sends: 20, keys: 4 })
      k.rig('room')
      k.interface('desk', 'room', 2, 2)
      k.cable('room', 'desk-out-1', 'desk-in-1')
      for (let n = 0; n < 30; n++) {
        const before = structuredClone(k.session)
        const [table, id] = connected(k, dice)
        const may = mayCircle(k.session, touching(table, id, k.session))
        if (findCircle(k.session)) {
          expect(may, `seed ${seed}, ${n}: ${table} ${id}`).toBe(true)
          circles++
          Object.assign(k.session, before)
        } else if (!may) clear++
      }
    }
    expect(circles).toBeGreaterThan(times(200, 2000))
    expect(clear).toBeGreaterThan(times(600, 6000))
  })

  it('is not where many tracks go to a new bus, whatever else runs through the rig', () => {
    const k = generatedNetwork(7, { tracks: 40, submixes: 6, returns: 3, stems: 2, sends: 20, keys: 4 })
    k.rig('room')
    k.interface('desk', 'room', 2, 2)
    k.add('loop', { id: 'l', rig: 'room', name: 'Loop', outPorts: ['desk-out-1'], inPorts: ['desk-in-1'] })
    k.slot('main', 'loop', {}, { loop: 'l' })
    k.bus('all')
    const tracks = rows(k.session, 'channel').filter(c => c.kind === 'track')
    const made = new Set([k.main('all', 'main'), ...tracks.map(t => k.main(t.id, 'all'))])
    const touched = <T extends TableName>(table: T) =>
      table === 'feed' ? (rows(k.session, 'feed').filter(f => made.has(f.id)) as Row<T>[]) : []
    expect(mayCircle(k.session, touched)).toBe(false)
    made.add(k.send('main', 'all', 0))
    expect(mayCircle(k.session, touched)).toBe(true)
  })
})

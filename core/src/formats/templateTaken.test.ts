// What a template takes of a session, field by field, and what it refuses to read.
import { describe, expect, it } from 'vitest'
import { Sketch } from '../testing/sketch'
import { readTemplate, takeTemplate } from './template'

function session(): Sketch {
  const k = new Sketch('Here', { sampleRate: 44100 })
  k.rig('r')
  k.interface('io', 'r', 1, 1)
  k.unit('u', 'r', 'wire')
  k.cable('r', 'io-out-1', 'u:0', { id: 'w' })
  k.add('loop', { id: 'l', rig: 'r', name: 'L', outPorts: ['io-out-1'], inPorts: ['io-in-1'] })
  k.bus('main', { role: 'main', soloed: true })
  k.bus('a', { order: 'z' })
  k.add('slot', { id: 'on-bus', channel: 'a', processor: 'compressor' })
  k.track('t', undefined, { name: 'Kora', family: 'Strings', colour: 3, order: 'b' })
  k.track('u', undefined, { name: 'Lute', order: 'a' })
  k.add('slot', { id: 'on-track', channel: 'u', processor: 'compressor' })
  k.main('a', 'main', { id: 'f1' })
  k.add('feed', { id: 'f9', kind: 'main', from: 't', to: 'main' })
  k.add('feed', { id: 'f3', kind: 'main', from: 't', to: 'a' })
  k.add('feed', { id: 'f4', kind: 'send', from: 't', to: 'a', levelDb: -6, tap: 'pre', pan: 0.5 })
  k.add('feed', { id: 'f5', kind: 'key', from: 't', slot: 'on-bus', tap: 'input', levelDb: -1 })
  k.add('feed', { id: 'f6', kind: 'key', from: 't', slot: 'on-track' })
  k.add('feed', { id: 'f7', kind: 'key', from: 'a', slot: 'on-track' })
  k.add('feed', { id: 'f8', kind: 'port', from: 'a', ports: ['io-out-1'] })
  k.add('feed', { id: 'g1', kind: 'input', to: 'a', ports: ['io-in-1'] })
  k.add('feed', { id: 'g2', kind: 'input', to: 't', ports: ['io-in-1'] })
  k.add('feed', { id: 'g3', kind: 'port', from: 't', ports: ['io-out-1'] })
  return k
}

describe('a template', () => {
  const take = () => takeTemplate(session().session, 'House')
  it('has how tracks were connected, in their order, to what is in it', () => {
    const taken = take()
    expect(taken).toMatchObject({ nulletTemplate: 1, name: 'House', sampleRate: 44100, families: null })
    expect(taken.tracks).toEqual([
      { name: 'Lute', family: '', colour: 0, mains: [], sends: [], keys: [] },
      {
        name: 'Kora',
        family: 'Strings',
        colour: 3,
        mains: ['a', 'main'],
        sends: [{ to: 'a', tap: 'pre', levelDb: -6, pan: 0.5 }],
        keys: [{ slot: 'on-bus', tap: 'input', levelDb: -1 }]
      }
    ])
  })
  it('has buses without solo, their slots, what runs between them and the room, by their ids', () => {
    const taken = take()
    const ids = Object.fromEntries(Object.entries(taken.rows).map(([t, list]) => [t, list.map(r => r.id)]))
    expect(ids).toEqual({
      rig: ['r'],
      interface: ['io'],
      port: ['io-in-1', 'io-out-1'],
      unit: ['u'],
      cable: ['w'],
      loop: ['l'],
      channel: ['a', 'main'],
      slot: ['on-bus'],
      feed: ['f1', 'f8', 'g1']
    })
    expect(taken.rows.channel.every(c => !c.soloed)).toBe(true)
  })
  it('is the same when it is read again', () => {
    const taken = take()
    expect(readTemplate(JSON.stringify(taken))).toEqual(taken)
  })
  it.each([
    ['f1', { from: 'gone' }],
    ['f1', { to: 'gone' }],
    ['f8', { from: 'gone' }],
    ['g1', { to: 'gone' }]
  ])('whose feed %s has %j is refused by its id', (id, fields) => {
    const taken = take()
    const broken = structuredClone(taken)
    Object.assign(
      broken.rows.feed.find(f => f.id === id)!,
      fields
    )
    expect(() => readTemplate(JSON.stringify(broken))).toThrow(
      `This template cannot be read: its feed “${id}” names something that is not in it`
    )
  })
  it('with a key into a slot that is not in it is refused', () => {
    const taken = take()
    const broken = structuredClone(taken)
    broken.rows.feed.push({ ...broken.rows.feed[0]!, id: 'k', kind: 'key', to: null, slot: 'gone' } as never)
    expect(() => readTemplate(JSON.stringify(broken))).toThrow('its feed “k” names something that is not in it')
    broken.rows.feed.at(-1)!.slot = 'on-bus' as never
    expect(readTemplate(JSON.stringify(broken)).rows.feed).toHaveLength(4)
  })
})

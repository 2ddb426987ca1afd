// The way from a channel to the ears, as it is drawn and as it is heard, with what lies on it.
import { describe, expect, it } from 'vitest'
import { Sketch } from '../testing/sketch'
import { Network } from './network'
import { alsoGoesTo, fedBy, heardPath, pathToEars, stagesToEars } from './path'
import { tiers } from './tiers'

/** A track whose bus splits: to the main straight, and out by ports and back. */
function session(): Sketch {
  const k = new Sketch()
  k.rig('r')
  k.rig('other')
  k.interface('io', 'r', 2, 2)
  k.interface('far', 'other', 1, 1)
  k.unit('box', 'r', 'valve-compressor')
  k.cable('r', 'io-out-1', 'box:0')
  k.cable('r', 'box:0', 'io-in-1')
  k.medium('m', 1, 10)
  k.bus('main', { role: 'main' })
  k.bus('phones', { role: 'main' })
  k.bus('drums')
  k.bus('back')
  k.main(k.track('t', 'm'), 'drums', { id: 'a' })
  k.main('drums', 'main', { id: 'b' })
  k.main('drums', 'phones', { id: 'c' })
  k.send('drums', 'back', -6, 'post', { id: 'd' })
  k.main('back', 'main', { id: 'e' })
  Object.assign(k.session.session.session, { heardChannel: 'main', rig: 'r' })
  return k
}
const network = (k: Sketch) => new Network(k.session)
const stages = (k: Sketch, id: string) => stagesToEars(network(k), id).map(s => `${s.kind} ${s.id}`)

describe('the path to the ears', () => {
  it('takes the branch that is heard', () => {
    const k = session()
    expect(pathToEars(network(k), 't')).toEqual(['t', 'drums', 'main'])
    k.session.session.session.heardChannel = 'phones'
    expect(pathToEars(network(k), 't')).toEqual(['t', 'drums', 'phones'])
    expect(pathToEars(network(k), 'main')).toEqual(['main'])
    k.session.session.session.heardChannel = null
    expect(pathToEars(network(k), 't')).toEqual(['t', 'drums', 'main'])
    k.session.session.session.heardChannel = 'drums'
    expect(pathToEars(network(k), 't')).toEqual(['t', 'drums'])
  })
  it('ends where nothing leads on, and where it would run in a circle', () => {
    const k = session()
    for (const id of ['b', 'c']) delete k.session.feed[id]
    expect(pathToEars(network(k), 't')).toEqual(['t', 'drums'])
    k.main('drums', 't', { id: 'z' })
    k.session.session.session.heardChannel = null
    expect(pathToEars(network(k), 't')).toEqual(['t', 'drums'])
  })
  it('leaves by ports and comes back, in the room that is worked in', () => {
    const k = session()
    for (const id of ['b', 'c', 'd']) delete k.session.feed[id]
    k.add('feed', { id: 'o', kind: 'port', from: 'drums', ports: ['io-out-1'] })
    k.add('feed', { id: 'i', kind: 'input', to: 'back', ports: ['io-in-1'] })
    expect(pathToEars(network(k), 't')).toEqual(['t', 'drums', 'back', 'main'])
    expect(stages(k, 't')).toEqual([
      'channel t',
      'channel drums',
      'port io-out-1',
      'unit box',
      'port io-in-1',
      'channel back',
      'channel main'
    ])
    k.session.session.session.rig = 'other'
    expect(pathToEars(network(k), 't')).toEqual(['t', 'drums'])
    expect(stages(k, 't')).toEqual(['channel t', 'channel drums'])
  })
  it('goes on through the room where it also leads on by a main feed that is heard', () => {
    const k = session()
    k.add('feed', { id: 'o', kind: 'port', from: 'drums', ports: ['io-out-1'] })
    k.add('feed', { id: 'i', kind: 'input', to: 'back', ports: ['io-in-1'] })
    expect(stages(k, 't')).toEqual(['channel t', 'channel drums', 'channel main'])
  })
  it('tells the loops in slots that are on, each with its channel', () => {
    const k = session()
    k.add('loop', { id: 'l', rig: 'r', name: 'L', outPorts: ['io-out-2'], inPorts: ['io-in-2'] })
    k.slot('drums', 'equaliser')
    k.add('slot', { id: 's', channel: 'drums', processor: 'loop', loop: 'l' })
    k.add('slot', { id: 'empty', channel: 'drums', processor: 'loop', loop: null })
    expect(stages(k, 't')).toEqual(['channel t', 'channel drums', 'loop l', 'channel main'])
    k.session.slot.s!.state = 'bypassed'
    expect(stages(k, 't')).toEqual(['channel t', 'channel drums', 'channel main'])
  })
  it('as it is heard goes by the print that stands in a channel’s place', () => {
    const k = session()
    k.main(k.track('p', 'm'), 'main', { id: 'pm' })
    k.add('print', { id: 'row', channel: 'p', source: 'drums', tap: 'post', clip: 'p-clip', takesOver: true })
    expect(pathToEars(network(k), 't')).toEqual(['t', 'drums', 'main'])
    expect(heardPath(network(k), 't')).toEqual(['t', 'drums', 'p', 'main'])
  })
})

describe('what is beside the path', () => {
  it('is what feeds a channel, and where else it goes', () => {
    const k = session(),
      n = network(k)
    expect(fedBy(n, 'main').map(f => f.id)).toEqual(['b', 'e'])
    expect(fedBy(n, 't')).toEqual([])
    expect(alsoGoesTo(n, 'drums').map(f => f.id)).toEqual(['d'])
    expect(alsoGoesTo(n, 'main')).toEqual([])
  })
})

describe('tiers', () => {
  it('count the main feeds between a channel and the tracks, by the longest way', () => {
    const k = session()
    k.main('t', 'main', { id: 'x' })
    k.bus('alone')
    expect(Object.fromEntries(tiers(network(k)))).toEqual({ t: 0, drums: 1, back: 1, main: 2, phones: 2, alone: 1 })
  })
  it('of a circle end somewhere', () => {
    const k = session()
    k.main('main', 'drums', { id: 'circle' })
    expect(tiers(network(k)).get('main')).toBeGreaterThan(0)
  })
})

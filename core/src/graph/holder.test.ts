// Who uses a loop, and who would be missed with a channel.
import { describe, expect, it } from 'vitest'
import { Sketch } from '../testing/sketch'
import { holderOf, useOf, userNames, usersOf } from './holder'
import { Network } from './network'
import { onlyFor } from './onlyFor'

function session(): Sketch {
  const k = new Sketch()
  k.rig('r')
  k.rig('other')
  k.interface('io', 'r', 3, 3)
  k.interface('far', 'other', 1, 1)
  k.bus('main', { role: 'main', name: 'Main' })
  k.bus('stem', { name: 'Stem' })
  k.bus('back', { name: 'Back' })
  k.add('loop', {
    id: 'l',
    rig: 'r',
    name: 'Loop',
    outPorts: ['io-out-1', 'io-out-2'],
    inPorts: ['io-in-1', 'io-in-2']
  })
  k.session.session.session.rig = 'r'
  return k
}

describe('a loop', () => {
  const use = (k: Sketch) => {
    const found = useOf(k.session, k.session.loop.l!)
    return [found.slot?.id, found.sends.map(f => f.id), found.returns.map(f => f.id), usersOf(k.session, found)]
  }
  it('that waits has nobody', () => {
    const k = session()
    expect(holderOf(k.session, k.session.loop.l!)).toBeUndefined()
    expect(use(k)).toEqual([undefined, [], [], []])
  })

  it('in a slot is that slot’s, whatever feeds there are; one that is bypassed takes and gives nothing', () => {
    const k = session()
    k.add('slot', { id: 'e', channel: 'stem', processor: 'equaliser' })
    k.add('slot', { id: 's', channel: 'stem', processor: 'loop', loop: 'l' })
    k.add('feed', { id: 'p', kind: 'port', from: 'back', ports: ['io-out-1'] })
    expect(use(k)).toEqual(['s', [], [], ['stem']])
    k.session.slot.s!.state = 'bypassed'
    expect(use(k)).toEqual(['s', [], [], []])
  })

  it('between feeds has those that are open and meet its ports, in the order of their ids', () => {
    const k = session()
    const port = (id: string, ports: string[], more = {}) =>
      k.add('feed', { id, kind: 'port', from: 'stem', ports, ...more })
    port('p9', ['io-out-2'])
    port('p1', ['io-out-3', 'io-out-1'], { from: 'main' })
    port('none', ['io-out-3'])
    port('muted', ['io-out-1'], { muted: true })
    port('closed', ['io-out-1'], { levelDb: null })
    expect(use(k)).toEqual([undefined, ['p1', 'p9'], [], []])
    k.add('feed', { id: 'i2', kind: 'input', to: 'back', ports: ['io-in-2'] })
    k.add('feed', { id: 'i1', kind: 'input', to: 'stem', ports: ['io-in-1'] })
    k.add('feed', { id: 'not', kind: 'input', to: 'stem', ports: ['io-in-3'] })
    expect(use(k)).toEqual([undefined, ['p1', 'p9'], ['i1', 'i2'], ['main', 'stem', 'back']])
    expect(userNames(k.session, ['main', 'back'])).toBe('“Main” and “Back”')
  })

  it('in a room that is not worked in has no feeds', () => {
    const k = session()
    k.add('loop', { id: 'there', rig: 'other', name: 'There', outPorts: ['far-out-1'], inPorts: ['far-in-1'] })
    k.add('feed', { id: 'p', kind: 'port', from: 'stem', ports: ['far-out-1'] })
    k.add('feed', { id: 'i', kind: 'input', to: 'back', ports: ['far-in-1'] })
    expect(useOf(k.session, k.session.loop.there!)).toEqual({ sends: [], returns: [] })
    k.session.session.session.rig = 'other'
    expect(useOf(k.session, k.session.loop.there!).returns.map(f => f.id)).toEqual(['i'])
  })
})

describe('who is heard only through others', () => {
  function mix(): Sketch {
    const k = new Sketch()
    k.medium('m', 1, 10)
    k.bus('main', { role: 'main' })
    for (const id of ['drums', 'hall']) k.bus(id)
    for (const id of ['a', 'b', 'c']) k.track(id, 'm')
    k.main('drums', 'main', { id: 'out' })
    k.main('a', 'drums')
    k.main('b', 'drums')
    k.main('c', 'main')
    return k
  }
  const only = (k: Sketch, ...starts: string[]) => [...onlyFor(new Network(k.session), starts)].sort()
  /** “drums” is printed, and the print stands in its place. */
  function printed(k: Sketch): Sketch {
    k.track('p', 'm')
    k.main('p', 'main')
    k.add('print', { id: 'row', channel: 'p', source: 'drums', tap: 'post', clip: 'p-clip', takesOver: true })
    return k
  }

  it('leads nowhere else, once what it leads to is replaced', () => {
    expect(only(mix(), 'drums')).toEqual([])
    expect(only(printed(mix()), 'drums')).toEqual(['a', 'b', 'drums'])
  })
  it('not one that is sent somewhere else too, unless that send is closed', () => {
    const k = printed(mix())
    const send = k.send('a', 'hall', -6)
    k.main('hall', 'main')
    expect(only(k, 'drums')).toEqual(['b', 'drums'])
    k.session.feed[send]!.muted = true
    expect(only(k, 'drums')).toEqual(['a', 'b', 'drums'])
    Object.assign(k.session.feed[send]!, { muted: false, levelDb: null })
    expect(only(k, 'drums')).toEqual(['a', 'b', 'drums'])
  })
  it('also what only steers something inside, not what steers something else', () => {
    const k = printed(mix())
    k.add('slot', { id: 's', channel: 'drums', processor: 'compressor' })
    k.track('keyer', 'm')
    k.key('keyer', 's')
    expect(only(k, 'drums')).toEqual(['a', 'b', 'drums', 'keyer'])
    k.add('slot', { id: 'elsewhere', channel: 'main', processor: 'compressor' })
    const key = k.key('a', 'elsewhere')
    expect(only(k, 'drums')).toEqual(['b', 'drums', 'keyer'])
    delete k.session.feed[key]
  })
  it('and what goes out by ports, where all that listens there is inside', () => {
    const k = printed(mix())
    k.rig('r')
    k.interface('io', 'r', 1, 1)
    k.cable('r', 'io-out-1', 'io-in-1')
    k.add('feed', { id: 'po', kind: 'port', from: 'a', ports: ['io-out-1'] })
    expect(only(k, 'drums')).toEqual(['a', 'b', 'drums'])
    k.add('feed', { id: 'in', kind: 'input', to: 'hall', ports: ['io-in-1'] })
    k.main('hall', 'main', { id: 'zz' })
    expect(only(k, 'drums')).toEqual(['b', 'drums'])
    k.session.feed.zz = { ...k.session.feed.zz!, to: 'drums' } as never
    expect(only(k, 'drums')).toEqual(['a', 'b', 'drums', 'hall'])
  })
})

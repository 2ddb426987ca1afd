// The index of a session: who feeds whom, in the order in which a bus adds, through the rig too.
import { describe, expect, it } from 'vitest'
import { Sketch } from '../testing/sketch'
import { Network } from './network'

function session(): Sketch {
  const k = new Sketch()
  k.rig('r')
  k.interface('io', 'r', 3, 3)
  k.unit('box', 'r', 'summing-8')
  k.cable('r', 'io-out-1', 'box:0')
  k.cable('r', 'box:0', 'io-in-1')
  k.cable('r', 'box:1', 'io-in-2')
  k.bus('main', { role: 'main' })
  k.bus('back')
  k.bus('hall', { role: 'return' })
  k.medium('m', 1, 10)
  for (const id of ['t', 'u']) k.track(id, 'm')
  k.track('print')
  // Ids that do not come in the order of their making.
  k.add('feed', { id: 'f9', kind: 'main', from: 't', to: 'main' })
  k.add('feed', { id: 'f1', kind: 'main', from: 'u', to: 'main' })
  k.add('feed', { id: 'f5', kind: 'send', from: 't', to: 'hall' })
  k.add('slot', { id: 's', channel: 'hall', processor: 'compressor' })
  k.add('feed', { id: 'k1', kind: 'key', from: 'u', slot: 's' })
  k.add('feed', { id: 'p1', kind: 'port', from: 'hall', ports: ['io-out-1', 'io-out-3'] })
  k.add('feed', { id: 'i1', kind: 'input', to: 'back', ports: ['io-in-2', 'io-in-3'] })
  k.main('back', 'main', { id: 'f7' })
  return k
}
const ids = (list: readonly { id: string }[] | undefined) => list?.map(f => f.id)

describe('the network of a session', () => {
  it('has feeds by both their ends, in the order of their ids', () => {
    const n = new Network(session().session)
    expect(ids(n.feeds)).toEqual(['f1', 'f5', 'f7', 'f9', 'i1', 'k1', 'p1'])
    expect(ids(n.feedsTo.get('main'))).toEqual(['f1', 'f7', 'f9'])
    expect(ids(n.feedsFrom.get('t'))).toEqual(['f5', 'f9'])
    expect(ids(n.keysTo.get('s'))).toEqual(['k1'])
    expect(ids(n.feedsToPort.get('io-out-3'))).toEqual(['p1'])
    expect([...n.feedsFrom.keys()].sort()).toEqual(['back', 'hall', 't', 'u'])
    expect([...n.feedsTo.keys()].sort()).toEqual(['back', 'hall', 'main'])
  })

  it('says what audio reaches directly: main feeds and sends, no keys, no ports', () => {
    const n = new Network(session().session)
    expect(ids(n.next('t'))).toEqual(['f5', 'f9'])
    expect(ids(n.next('u'))).toEqual(['f1'])
    expect(n.next('hall')).toEqual([])
    expect(n.next('main')).toEqual([])
    expect(ids(n.mainsFrom('t'))).toEqual(['f9'])
    expect(n.mainsFrom('print')).toEqual([])
    expect(ids(n.mainsTo('main'))).toEqual(['f1', 'f7', 'f9'])
    expect(n.mainsTo('hall')).toEqual([])
    expect(n.mainsTo('t')).toEqual([])
  })

  it('goes through the rig, both ways', () => {
    const n = new Network(session().session)
    expect(n.channelsBehind(['io-out-1'])).toEqual(['back'])
    expect(n.channelsBehind(['io-out-2'])).toEqual([])
    expect(n.channelsBefore(['io-in-1'])).toEqual(['hall'])
    expect(n.channelsBefore(['io-in-2', 'io-in-3'])).toEqual(['hall'])
    expect(n.channelsBefore(['io-in-3'])).toEqual([])
    expect(n.downstream('hall')).toEqual(['back'])
    expect(n.downstream('t')).toEqual(['hall', 'main'])
    expect(n.downstream('main')).toEqual([])
    expect(n.upstream('back')).toEqual(['hall'])
    expect(n.upstream('main')).toEqual(['u', 'back', 't'])
    expect(n.upstream('t')).toEqual([])
    expect([...n.reach(['t'], id => n.downstream(id))].sort()).toEqual(['back', 'hall', 'main', 't'])
    expect([...n.reach(['main'], id => n.upstream(id))].sort()).toEqual(['back', 'hall', 'main', 't', 'u'])
  })

  it('has one print that stands for a track, whatever the order of the rows; others are beside it', () => {
    const k = session()
    k.add('take', { id: 'x', channel: 'print', name: 'X' })
    k.add('clip', { id: 'heard', channel: 'print', medium: 'm' })
    k.add('clip', { id: 'aside', channel: 'print', medium: 'm', take: 'x' })
    for (const [id, clip] of [
      ['p3', 'heard'],
      ['p2', 'heard'],
      ['p1', 'aside']
    ] as const)
      k.add('print', { id, channel: 'print', source: 'hall', tap: 'post', clip })
    k.add('print', { id: 'p0', channel: 'print', source: null, tap: 'post', clip: 'heard' })
    k.add('print', { id: 'share', channel: 'print', source: 'hall', share: 'back', tap: 'post', clip: 'heard' })
    const n = new Network(k.session)
    expect(n.printOn.get('print')?.id).toBe('p2')
    expect(ids(n.printsOf.get('hall'))).toEqual(['p2', 'p3'])
    expect(ids(n.printsAside.get('print'))).toEqual(['p1', 'p3'])
    expect(ids(n.clips.get('print'))).toEqual(['heard'])
    expect(n.channel('hall')?.id).toBe('hall')
    expect(n.channel('gone')).toBeUndefined()
  })
})

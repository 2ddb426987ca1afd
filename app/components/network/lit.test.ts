import { describe, expect, it } from 'vitest'
import { Network } from '@nullet/core/graph/network'
import { Sketch } from '@nullet/core/testing/sketch'
import { columnsOf, cellsOf } from '../crosspoints/grid'
import { litBy } from './lit'
import { matching } from '~/session/matching'

function network(): Sketch {
  const k = new Sketch()
  k.bus('main', { role: 'main', name: 'Main' })
  k.bus('drums', { name: 'Drums' })
  k.bus('hall', { role: 'return', name: 'Hall' })
  k.main('drums', 'main')
  k.main('hall', 'main')
  for (const id of ['a', 'b', 'voice'])
    k.track(id, undefined, { name: `Track ${id}`, family: id === 'voice' ? 'Narration' : 'Percussion' })
  k.main('a', 'drums')
  k.main('b', 'drums')
  k.main('voice', 'main')
  k.send('a', 'hall', -12)
  k.key('voice', k.slot('drums', 'compressor'))
  k.rig('r')
  k.interface('io', 'r', 2, 2)
  k.session.session.session.rig = 'r'
  k.add('loop', { id: 'amp', rig: 'r', name: 'Amp', outPorts: ['io-out-1'], inPorts: ['io-in-1'] })
  k.add('slot', { id: 'amp-slot', channel: 'a', processor: 'loop', loop: 'amp' })
  return k
}
const of = (...selected: string[]) => litBy(new Network(network().session), selected)

describe('what a selection lights', () => {
  it('all that feeds it and all it reaches, and nothing beside', () => {
    expect([...of('a').channels].sort()).toEqual(['a', 'drums', 'hall', 'main'])
    expect([...of('drums').channels].sort()).toEqual(['a', 'b', 'drums', 'main', 'voice'])
  })
  it('what it steers by a key, and the key itself', () => {
    expect([...of('voice').channels].sort()).toEqual(['drums', 'main', 'voice'])
  })
  it('the print that is heard in the place of a bus, and nothing past it', () => {
    const k = network()
    k.track('kept', undefined, { layout: ['L', 'R'] })
    k.main('kept', 'main', { id: 'kept-main' })
    k.add('print', { id: 'p', channel: 'kept', source: 'drums', tap: 'post', takesOver: true })
    const lit = litBy(new Network(k.session), ['a'])
    expect([...lit.channels].sort()).toEqual(['a', 'drums', 'hall', 'kept', 'main'])
    const fromDrums = Object.values(k.session.feed).find(f => f.from === 'drums')!.id
    expect([lit.feeds.has('kept-main'), lit.feeds.has(fromDrums)]).toEqual([true, false])
    expect(cellsOf(new Network(k.session)).get('drums')!.get('main')!.closed).toBe(true)
  })
  it('nothing for what is gone', () => {
    expect(of('nobody').channels.size).toBe(0)
  })
})

describe('a typed filter', () => {
  const found = (text: string) => [...(matching(network().session, text) ?? ['(all)'])].sort()
  it('finds by name, family and role; every word must fit', () => {
    expect(found('percussion')).toEqual(['a', 'b'])
    expect(found('track voice')).toEqual(['voice'])
    expect(found('return')).toEqual(['hall'])
    expect(found('percussion return')).toEqual([])
    expect(found('  ')).toEqual(['(all)'])
  })
})

describe('the grid', () => {
  it('has mains, submixes, returns, key inputs and ports out as columns, and each feed in its cell', () => {
    const { session } = network()
    expect(columnsOf(session).map(c => `${c.group}: ${c.name}`)).toEqual([
      'Mains: Main',
      'Submixes: Drums',
      'Returns: Hall',
      'Key inputs: Drums',
      'Ports out: Out 1',
      'Ports out: Out 2'
    ])
    const cells = cellsOf(new Network(session))
    expect(cells.get('a')!.get('drums')).toMatchObject({ main: { from: 'a' } })
    expect(cells.get('a')!.get('hall')).toMatchObject({ send: { levelDb: -12 } })
    expect([...cells.get('voice')!.values()].some(c => c.key)).toBe(true)
  })
})

import { describe, expect, it } from 'vitest'
import { Sketch } from '../testing/sketch'
import { findCircle } from './circles'

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

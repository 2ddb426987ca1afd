// Sides of units that signal passes, and the wiring as text by which two measurements are known as the same.
import { describe, expect, it } from 'vitest'
import { Sketch } from '../testing/sketch'
import { meets, portsBehind, sidesReached } from './sides'
import { wiringText } from './wiringText'

function room(): Sketch {
  const k = new Sketch()
  k.rig('r')
  k.interface('io', 'r', 4, 4, { referenceDbu: 18, trueLatencySamples: 20 })
  k.unit('coils', 'r', 'passive-equaliser')
  k.unit('press', 'r', 'valve-compressor', { ratio: 4, attackMs: 10 })
  k.cable('r', 'io-out-1', 'coils:0')
  k.cable('r', 'io-out-2', 'coils:1')
  k.cable('r', 'coils:0', 'press:0')
  k.cable('r', 'io-out-3', 'press:1')
  k.cable('r', 'press:0', 'io-in-1')
  k.cable('r', 'press:1', 'io-in-2')
  k.cable('r', 'coils:1', 'io-in-3')
  return k
}

describe('sides', () => {
  it('of a unit whose wires are apart are two, of another one is one', () => {
    const { session } = room()
    expect([...sidesReached(session, ['io-out-1'])]).toEqual(['coils|0', 'press|0'])
    expect([...sidesReached(session, ['io-out-2'])]).toEqual(['coils|1'])
    expect([...sidesReached(session, ['io-out-3'])]).toEqual(['press|0'])
    expect([...sidesReached(session, ['io-out-4'])]).toEqual([])
    expect([...sidesReached(session, ['io-out-2', 'io-out-3'])].sort()).toEqual(['coils|1', 'press|0'])
  })
  it('lead back to the ports behind them', () => {
    const { session } = room()
    expect([...portsBehind(session, ['io-out-1'])].sort()).toEqual(['io-in-1', 'io-in-2'])
    expect([...portsBehind(session, ['io-out-2'])]).toEqual(['io-in-3'])
    expect([...portsBehind(session, ['io-out-4'])]).toEqual([])
  })
  it('meet in a unit that mixes them, and nowhere else', () => {
    const { session } = room()
    expect(meets(session, 'io-out-1', 'io-out-3')).toBe(true)
    expect(meets(session, 'io-out-3', 'io-out-1')).toBe(true)
    expect(meets(session, 'io-out-1', 'io-out-2')).toBe(false)
    expect(meets(session, 'io-out-4', 'io-out-4')).toBe(true)
    expect(meets(session, 'io-out-4', 'io-out-1')).toBe(false)
    expect(meets(session, 'io-in-1', 'io-out-1')).toBe(false)
    expect(meets(session, 'gone', 'io-out-1')).toBe(false)
  })
  it('of cables in a circle are told once', () => {
    const k = room()
    k.cable('r', 'press:1', 'coils:1')
    k.cable('r', 'coils:1', 'press:1')
    expect([...sidesReached(k.session, ['io-out-3'])].sort()).toEqual(['coils|1', 'press|0'])
  })
})

describe('wiring as text', () => {
  function text(change: (k: Sketch) => void = () => {}): string {
    const k = room()
    k.add('loop', { id: 'l', rig: 'r', name: 'L', outPorts: ['io-out-1'], inPorts: ['io-in-1'] })
    change(k)
    return wiringText(k.session, k.session.loop.l!)
  }
  it('has every port, unit and cable on the way, once, and nothing else', () => {
    expect(text().split('\n')).toEqual([
      'port io-out-1 analog 18 20 -115 1.6',
      'cable p:io-out-1:0 u:coils:0',
      'unit coils passive-equaliser true []',
      'cable u:coils:0 u:press:0',
      'cable u:coils:1 p:io-in-3:0',
      'unit press valve-compressor true [["attackMs",10],["ratio",4]]',
      'cable u:press:0 p:io-in-1:0',
      'cable u:press:1 p:io-in-2:0',
      'port io-in-3 analog 18 20 -115 1.6',
      'port io-in-1 analog 18 20 -115 1.6',
      'port io-in-2 analog 18 20 -115 1.6'
    ])
  })
  it.each<[string, (k: Sketch) => void]>([
    ['a setting', k => (k.session.unit.press!.settings = { ratio: 5, attackMs: 10 })],
    ['power', k => (k.session.unit.press!.powered = false)],
    ['a unit that turns', k => (k.session.unit.coils!.inverts = true)],
    ['a cable that turns', k => (Object.values(k.session.cable).find(c => c.toPort === 'io-in-1')!.inverts = true)],
    ['another jack', k => (Object.values(k.session.cable).find(c => c.fromPort === 'io-out-1')!.toJack = 1)],
    ['a clock of its own', k => Object.assign(k.session.interface.io!, { clock: 'free', driftPpm: 3 })],
    ['a port’s reference', k => (k.session.port['io-in-1']!.referenceDbu = 12)],
    ['a longer converter', k => (k.session.interface.io!.trueLatencySamples = 21)]
  ])('is another one with %s', (_, change) => expect(text(change)).not.toBe(text()))
  it('is the same whatever the order of settings, and for what lies beside the way', () => {
    expect(text(k => (k.session.unit.press!.settings = { attackMs: 10, ratio: 4 }))).toBe(text())
    expect(text(k => k.cable('r', 'io-out-4', 'io-in-4'))).toBe(text())
    expect(text(k => Object.assign(k.session.interface.io!, { driftPpm: 3 }))).toBe(text())
  })
})

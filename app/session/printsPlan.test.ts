// The plan of prints: names, places, ways; tries of one source share a track.
import { describe, expect, it } from 'vitest'
import { Sketch } from '@nullet/core/testing/sketch'
import type { Through } from '@nullet/core/session/rows'
import { GROUPS, printOrders, printsPlan, stemsPlan, wantedTap, type WantedPrint } from './printsPlan'

function session() {
  const k = new Sketch()
  k.bus('main', { role: 'main' })
  k.bus('drums', { role: 'stem', name: 'Drums' })
  k.main('drums', 'main')
  k.main(k.track('a', undefined, { name: 'Kora DI' }), 'drums')
  k.rig('loft')
  k.interface('desk', 'loft', 2, 2)
  k.unit('amp', 'loft', 'tube-amplifier', {}, { name: 'Amp' })
  k.cable('loft', 'desk-out-1', 'amp:0')
  k.cable('loft', 'amp:0', 'desk-in-1')
  k.add('loop', { id: 'l', rig: 'loft', name: 'Amp', outPorts: ['desk-out-2'], inPorts: ['desk-in-2'] })
  k.slot('a', 'loop', {}, { loop: 'l' })
  return k
}
const out = (driveDb?: number): Through => ({
  ...{ tap: 'input', levelDb: 0, outPorts: ['desk-out-1'], inPorts: ['desk-in-1'], instead: {} },
  settings: driveDb === undefined ? {} : { amp: { driveDb } }
})
const line = (print: string, source: string, more: Partial<WantedPrint> = {}): WantedPrint => ({
  ...wantedTap(source),
  print,
  ...more
})

describe('the plan of prints', () => {
  it('names what it prints, and through which loops', () => {
    const wanted = [line('1', 'a'), line('2', 'drums', { tap: 'pre' }), line('3', 'main'), line('4', 'gone')]
    expect(printsPlan(session().session, wanted)).toMatchObject([
      { source: 'a', tap: 'post', name: 'Kora amp', place: 'over', way: 'through Amp', isOut: true },
      { source: 'drums', tap: 'pre', name: 'Drums print', way: 'through Amp' },
      { source: 'main', place: 'beside' }
    ])
  })

  it('puts tries of one source onto one track, after the first', () => {
    const tries = [5, undefined, 30].map((drive, n) => line(`t${n}`, 'a', { tap: 'pre', through: out(drive) }))
    const plan = printsPlan(session().session, tries)
    expect(plan).toMatchObject([
      { name: 'Kora, Amp', place: 'over', with: null, settings: ['“Amp” at Drive 5 dB'] },
      { name: 'Take 2', place: 'take', with: 't0', settings: [] },
      { name: 'Take 3', place: 'take', with: 't0', settings: ['“Amp” at Drive 30 dB'] }
    ])
    expect(printsPlan(session().session, tries.with(1, { ...tries[1]!, place: 'beside' }))[1]!).toMatchObject({
      place: 'beside',
      with: null
    })
  })

  it('puts a print again onto the track of the one before; of another way it does not', () => {
    const k = session()
    k.track('old', undefined, { name: 'Old' })
    k.add('print', { id: 'p', channel: 'old', source: 'drums', tap: 'post', takesOver: true })
    expect(printsPlan(k.session, [line('1', 'drums')])).toMatchObject([
      { name: 'Take 2', place: 'take', onto: { track: 'old', takes: 1 } }
    ])
    expect(printsPlan(k.session, [line('1', 'drums', { through: out() })])).toMatchObject([
      { place: 'over', onto: null }
    ])
  })

  it('puts print tracks right behind their sources, those of buses behind everything', () => {
    const { session: s } = session()
    ;['a0', 'a1', 'a2'].forEach((order, i) => {
      const id = ['main', 'a', 'drums'][i]!
      s.channel[id] = { ...s.channel[id]!, order }
    })
    const [one, bus, two] = printOrders(s, ['a', 'drums', 'a'])
    expect(['a0', 'a1', one, two, 'a2', bus].toSorted()).toEqual(['a0', 'a1', one, two, 'a2', bus])
    expect(new Set([one, two, bus]).size).toBe(3)
  })

  it('knows the stems of a main', () => {
    expect(stemsPlan(session().session, 'main')).toEqual([wantedTap('main', 'post', 'drums')])
  })
})

describe('what is printed together in one go', () => {
  it('is found by what it has in common; what is parked or off is left out', () => {
    const k = new Sketch('Groups')
    k.bus('main', { role: 'main' })
    k.bus('hall', { role: 'return', order: 'b' })
    k.bus('room', { role: 'return', order: 'a' })
    k.bus('gone', { role: 'return', parked: true })
    for (const id of ['one', 'two', 'three', 'four']) k.track(id)
    k.slot('one', 'saturation')
    k.slot('two', 'somebody/else')
    k.add('slot', { id: 'off', channel: 'three', processor: 'reverb', state: 'off' })
    k.slot('hall', 'reverb')
    const found = Object.fromEntries(GROUPS.map(g => [g.label, g.taps(k.session).map(t => `${t.source}@${t.tap}`)]))
    expect(found).toEqual({
      'all returns': ['room@post', 'hall@post'],
      'all submixes': [],
      'what has a reverb or a saturation on it': ['one@post', 'hall@post'],
      'what goes through a loop': [],
      'what has a processor that is not here': ['two@post']
    })
  })
})

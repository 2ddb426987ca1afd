// Why a way is closed, reason by reason: each stands where its row says so, and nowhere else.
import { describe, expect, it } from 'vitest'
import { envelopesOf } from '../movement/targets'
import type { Cable, Channel, Slot } from '../session/rows'
import { Sketch } from '../testing/sketch'
import { cableClosed, dryClosed, faderClosed, feedClosed, inputClosed, unitClosed, wetClosed } from './closed'
import { Network } from './network'

function room(sampleRate = 48000): Sketch {
  const k = new Sketch('Room', { sampleRate })
  k.rig('r')
  k.rig('elsewhere')
  k.interface('io', 'r', 2, 2)
  k.interface('far', 'elsewhere', 1, 1)
  k.bus('main', { role: 'main' })
  k.track('t')
  k.track('u')
  k.session.session.session.rig = 'r'
  return k
}

describe('a feed', () => {
  const feeds: Record<string, object> = {
    main: { kind: 'main', from: 't', to: 'main' },
    send: { kind: 'send', from: 't', to: 'main' },
    port: { kind: 'port', from: 't', ports: ['io-out-1'] },
    input: { kind: 'input', to: 't', ports: ['io-in-1'] }
  }
  const closedBy = (fields: object, channel: object = {}) => {
    const k = room()
    Object.assign(k.session.channel.t!, channel)
    k.add('feed', { id: 'f', ...fields })
    return feedClosed(new Network(k.session), k.session.feed.f!)
  }
  it.each([
    ['main', {}, {}, null],
    ['main', {}, { parked: true }, 'parked'],
    ['port', {}, { parked: true }, 'parked'],
    ['main', { muted: true }, {}, 'feedMuted'],
    ['main', {}, { muted: true }, 'muted'],
    ['send', {}, { muted: true }, 'muted'],
    ['port', {}, { muted: true }, null],
    ['port', { withMute: true }, { muted: true }, 'muted'],
    ['port', { withMute: true }, {}, null],
    ['input', {}, { muted: true }, null],
    ['port', { ports: ['far-out-1'] }, {}, 'otherRig'],
    ['port', { ports: ['far-out-1', 'io-out-1'] }, {}, null],
    ['input', { ports: ['far-in-1'] }, {}, 'otherRig'],
    ['send', { levelDb: null }, {}, 'feedLevel'],
    ['send', { levelDb: null, muted: true }, {}, 'feedMuted']
  ] as const)('%s with %j of a channel with %j: %s', (kind, fields, channel, why) => {
    expect(closedBy({ ...feeds[kind], ...fields }, channel)).toBe(why)
  })

  it('in whose place a print stands', () => {
    const k = room()
    k.main('t', 'main')
    k.add('print', { id: 'p', channel: 'u', source: 't', tap: 'post', takesOver: true })
    const [feed] = Object.values(k.session.feed)
    expect(feedClosed(new Network(k.session), feed!)).toBe('printStands')
  })
})

describe('a channel', () => {
  const of = (fields: object) => ({ ...room().session.channel.main!, ...fields }) as Channel
  it.each([
    [{}, null],
    [{ parked: true, trimDb: null }, 'parked'],
    [{ trimDb: null }, 'trim'],
    [{ mutedLegs: [0] }, null],
    [{ mutedLegs: [0, 1] }, 'legs']
  ])('with %j lets its input through: %s', (fields, why) => expect(inputClosed(of(fields))).toBe(why))
  it.each([
    [{}, null],
    [{ muted: true }, 'muted'],
    [{ levelDb: null }, 'level']
  ])('with %j lets its fader through: %s', (fields, why) => expect(faderClosed(of(fields))).toBe(why))
})

describe('a slot', () => {
  it.each([
    [{}, null, 'wet'],
    [{ state: 'off' }, 'off', null],
    [{ state: 'bypassed' }, 'bypassed', null],
    [{ mix: 0 }, 'dry', null],
    [{ mix: 0.5 }, null, null],
    [{ processor: 'not here' }, null, null],
    [{ processor: 'loop', loop: 'l' }, null, 'wet'],
    [{ processor: 'loop', loop: 'l', state: 'off' }, 'off', null]
  ])('with %j: the way through it %s, around it %s', (fields, wet, dry) => {
    const k = room()
    k.add('slot', { id: 's', channel: 't', processor: 'reverb', ...fields })
    const slot = k.session.slot.s as Slot,
      still = envelopesOf(k.session)
    expect([wetClosed(slot, still), dryClosed(slot, still)]).toEqual([wet, dry])
  })
  it('whose mix moves is open both ways', () => {
    const k = room()
    for (const mix of [0, 1]) {
      k.add('slot', { id: `s${mix}`, channel: 't', processor: 'reverb', mix })
      k.move({ slot: `s${mix}` }, 'mix', [[0, 0.5]])
    }
    const moves = envelopesOf(k.session)
    for (const slot of Object.values(k.session.slot))
      expect([wetClosed(slot, moves), dryClosed(slot, moves)]).toEqual([null, null])
  })
})

describe('a cable', () => {
  function closedBy(change: (k: Sketch) => void, sampleRate?: number) {
    const k = room(sampleRate)
    k.unit('amp', 'r', 'tube-amplifier')
    k.unit('box', 'r', 'modelling-processor')
    k.unit('coils', 'r', 'passive-equaliser', {}, { powered: false })
    k.cable('r', 'io-out-1', 'amp:0')
    k.cable('r', 'amp:0', 'box:0')
    k.cable('r', 'box:0', 'coils:0')
    k.cable('r', 'coils:0', 'io-in-1')
    change(k)
    return Object.values(k.session.cable).map(c => cableClosed(k.session, c))
  }
  const cable = (k: Sketch, from: string) => Object.values(k.session.cable).find(c => c.fromUnit === from) as Cable
  it('is open where the units are on, or passive', () => {
    expect(closedBy(() => {})).toEqual([null, null, null, null])
  })
  it('out of a unit that is off is closed, and the one into it is not', () => {
    expect(closedBy(k => (k.session.unit.amp!.powered = false))).toEqual([null, 'unitOff', null, null])
  })
  it('out of what is no unit is closed', () => {
    expect(closedBy(k => (k.session.unit.coils!.model = 'mystery'))).toEqual([null, null, null, 'unitOff'])
    expect(closedBy(k => delete k.session.unit.amp)).toEqual([null, 'unitOff', null, null])
  })
  it('into a jack that the unit does not listen to is closed, by its switch', () => {
    expect(closedBy(k => (cable(k, 'amp').toJack = 1))).toEqual([null, 'switch', null, null])
    const turned = (k: Sketch) => {
      cable(k, 'amp').toJack = 1
      k.session.unit.box!.settings = { input: 'digital' }
    }
    expect(closedBy(turned)).toEqual([null, null, null, null])
    expect(closedBy(turned, 44100)).toEqual([null, 'noLock', null, null])
    expect(closedBy(() => {}, 44100)).toEqual([null, null, null, null])
  })
  it('of a unit alone: passive ones are never off', () => {
    const k = room()
    k.unit('a', 'r', 'tube-amplifier', {}, { powered: false })
    k.unit('w', 'r', 'wire', {}, { powered: false })
    k.unit('m', 'r', 'mystery', {}, { powered: false })
    expect(['a', 'w', 'm'].map(id => unitClosed(k.session.unit[id]!))).toEqual(['unitOff', null, 'unitOff'])
  })
})

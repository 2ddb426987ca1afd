// The table of ways of one session with a bit of everything, way by way, each with what closes it.
import { describe, expect, it } from 'vitest'
import { rows } from '../session/session'
import { Sketch } from '../testing/sketch'
import { Edges, downstreamOf, nodeName, nodeOf, upstreamOf, type Edge } from './edges'

function session(): Sketch {
  const k = new Sketch()
  k.rig('r')
  k.interface('io', 'r', 2, 2)
  k.unit('amp', 'r', 'tube-amplifier')
  k.cable('r', 'io-out-1', 'amp:0')
  k.cable('r', 'amp:0', 'io-in-1')
  k.medium('m', 1, 10)
  k.bus('main', { role: 'main' })
  k.track('t', 'm')
  k.main('t', 'main', { id: 'tm' })
  return k
}
/** “from → to by row” of one row or channel, closed ones with their reason. */
const told = (edges: Edges, by: string): string[] =>
  [...edges.outOf.values()]
    .flat()
    .filter(e => `${e.by.table} ${e.by.id}` === by)
    .map(said)
    .sort()
const said = ({ from, to, closed }: Edge) => `${from} → ${to}${closed ? ` (${closed})` : ''}`
const of = (k: Sketch, by: string) => told(new Edges(k.session), by)

describe('a channel', () => {
  it('is taken apart at its taps, and at its slots on both sides of the fader, in their order', () => {
    const k = session()
    k.add('slot', { id: 'b', channel: 't', processor: 'delay', order: 'b' })
    k.add('slot', { id: 'a', channel: 't', processor: 'reverb', order: 'a', mix: 0.5 })
    k.add('slot', { id: 'c', channel: 't', processor: 'compressor', order: 'a', afterFader: true, state: 'bypassed' })
    expect(of(k, 'channel t')).toEqual([
      'arriving|t → input|t',
      'behind|b → pre|t',
      'behind|c → post|t',
      'clips|t → arriving|t',
      'pre|t → fader|t'
    ])
    expect(of(k, 'slot a')).toEqual(['input|t → behind|a', 'input|t → slot|a', 'slot|a → behind|a'])
    expect(of(k, 'slot b')).toEqual(['behind|a → behind|b (wet)', 'behind|a → slot|b', 'slot|b → behind|b'])
    expect(of(k, 'slot c')).toEqual([
      'fader|t → behind|c',
      'fader|t → slot|c (bypassed)',
      'slot|c → behind|c (bypassed)'
    ])
  })
  it('that is closed at its trim, its fader or as a whole says so', () => {
    const k = session()
    Object.assign(k.session.channel.t!, { trimDb: null, muted: true })
    expect(of(k, 'channel t')).toEqual([
      'arriving|t → input|t (trim)',
      'clips|t → arriving|t',
      'fader|t → post|t',
      'input|t → pre|t',
      'pre|t → fader|t (muted)'
    ])
    k.session.channel.t!.parked = true
    k.add('slot', { id: 's', channel: 't', processor: 'reverb', mix: 0.5 })
    expect([...of(k, 'slot s'), ...of(k, 'feed tm')].every(e => e.endsWith('(parked)'))).toBe(true)
    expect(of(k, 'channel t').filter(e => !e.endsWith('(parked)'))).toEqual(['clips|t → arriving|t'])
  })
  it('that is a bus has no clips', () => {
    expect(of(session(), 'channel main')).toEqual([
      'arriving|main → input|main',
      'fader|main → post|main',
      'input|main → pre|main',
      'pre|main → fader|main'
    ])
  })
})

describe('a feed', () => {
  it('leaves at its tap, and is closed by its own end', () => {
    const k = session()
    expect(of(k, 'feed tm')).toEqual(['post|t → arriving|main'])
    Object.assign(k.session.feed.tm!, { tap: 'pre', muted: true })
    expect(of(k, 'feed tm')).toEqual(['pre|t → arriving|main (feedMuted)'])
  })
  it('that is a key steers a slot that listens to keys', () => {
    const k = session()
    k.add('slot', { id: 'keyed', channel: 'main', processor: 'compressor' })
    k.add('slot', { id: 'not', channel: 'main', processor: 'reverb' })
    k.add('slot', { id: 'odd', channel: 'main', processor: 'mystery' })
    for (const slot of ['keyed', 'not', 'odd', 'gone'])
      k.add('feed', { id: slot, kind: 'key', from: 't', slot, tap: 'pre' })
    expect(of(k, 'feed keyed')).toEqual(['pre|t → slot|keyed'])
    expect(of(k, 'feed not')).toEqual(['pre|t → slot|not (notKeyed)'])
    expect(of(k, 'feed odd')).toEqual(['pre|t → slot|odd (notKeyed)'])
    expect(of(k, 'feed gone')).toEqual([])
  })
  it('to ports and from ports has a way for each', () => {
    const k = session()
    k.bus('back')
    k.add('feed', { id: 'out', kind: 'port', from: 't', ports: ['io-out-1', 'io-out-2'], tap: 'input' })
    k.add('feed', { id: 'in', kind: 'input', to: 'back', ports: ['io-in-1', 'io-in-2'] })
    expect(of(k, 'feed out')).toEqual(['input|t → port|io-out-1', 'input|t → port|io-out-2'])
    expect(of(k, 'feed in')).toEqual(['port|io-in-1 → arriving|back', 'port|io-in-2 → arriving|back'])
    expect(rows(k.session, 'cable').flatMap(c => of(k, `cable ${c.id}`))).toEqual([
      'port|io-out-1 → unit|amp',
      'unit|amp → port|io-in-1'
    ])
    k.session.unit.amp!.powered = false
    expect(rows(k.session, 'cable').flatMap(c => of(k, `cable ${c.id}`))).toEqual([
      'port|io-out-1 → unit|amp',
      'unit|amp → port|io-in-1 (unitOff)'
    ])
  })
  it('into a track is heard as that listens, and takes the place of its clips there', () => {
    const k = session()
    k.add('feed', { id: 'in', kind: 'input', to: 't', ports: ['io-in-1'] })
    expect([...of(k, 'feed in'), ...of(k, 'channel t').slice(1, 2)]).toEqual([
      'port|io-in-1 → arriving|t (notListening)',
      'clips|t → arriving|t'
    ])
    k.session.channel.t!.listen = 'feed'
    expect([...of(k, 'feed in'), ...of(k, 'channel t').slice(1, 2)]).toEqual([
      'port|io-in-1 → arriving|t',
      'clips|t → arriving|t (notListening)'
    ])
    k.session.feed.in!.muted = true
    expect(of(k, 'feed in')).toEqual(['port|io-in-1 → arriving|t (feedMuted)'])
    // With nothing else to hear a track plays its clips.
    expect(of(k, 'channel t').slice(1, 2)).toEqual(['clips|t → arriving|t'])
  })
})

describe('a print', () => {
  it('leads from its source to its track where that listens; those of other takes do not', () => {
    const k = session()
    k.bus('stem')
    k.track('p', 'm')
    k.add('take', { id: 'x', channel: 'p', name: 'X' })
    k.add('clip', { id: 'aside', channel: 'p', medium: 'm', take: 'x' })
    k.add('print', { id: 'now', channel: 'p', source: 'stem', tap: 'pre', clip: 'p-clip' })
    k.add('print', { id: 'other', channel: 'p', source: 'stem', tap: 'post', clip: 'aside' })
    k.add('print', { id: 'lost', channel: 'p', source: 'gone', tap: 'post', clip: 'aside' })
    expect(of(k, 'print now')).toEqual(['pre|stem → arriving|p (notListening)'])
    expect(of(k, 'print other')).toEqual(['post|stem → arriving|p (otherTake)'])
    expect(of(k, 'print lost')).toEqual([])
    k.session.channel.p!.listen = 'feed'
    expect(of(k, 'print now')).toEqual(['pre|stem → arriving|p'])
    k.session.print.now!.source = 'gone'
    expect(of(k, 'print now')).toEqual([])
  })
})

describe('a loop in a slot', () => {
  function loop(fields: object = {}, slot: object = {}): Sketch {
    const k = session()
    k.add('loop', { id: 'l', rig: 'r', name: 'L', outPorts: ['io-out-1'], inPorts: ['io-in-1', 'io-in-2'], ...fields })
    k.add('slot', { id: 's', channel: 't', processor: 'loop', loop: 'l', ...slot })
    return k
  }
  it('goes out before its slot and comes back behind it', () => {
    expect(of(loop(), 'loop l')).toEqual([
      'input|t → port|io-out-1',
      'port|io-in-1 → behind|s',
      'port|io-in-2 → behind|s'
    ])
    expect(of(loop(), 'slot s')).toEqual(['input|t → behind|s (wet)'])
  })
  it('still sends while it is bypassed, and not while it is off', () => {
    expect(of(loop({}, { state: 'bypassed' }), 'loop l')[0]).toBe('input|t → port|io-out-1')
    expect(of(loop({}, { state: 'bypassed' }), 'loop l')[1]).toBe('port|io-in-1 → behind|s (bypassed)')
    expect(of(loop({}, { state: 'off' }), 'loop l')).toEqual([
      'input|t → port|io-out-1 (off)',
      'port|io-in-1 → behind|s (off)',
      'port|io-in-2 → behind|s (off)'
    ])
  })
  it('is closed where its send or its return is at −∞, or its channel is parked', () => {
    expect(of(loop({ sendDb: null }), 'loop l').slice(0, 2)).toEqual([
      'input|t → port|io-out-1 (send)',
      'port|io-in-1 → behind|s'
    ])
    expect(of(loop({ returnDb: null }), 'loop l').slice(0, 2)).toEqual([
      'input|t → port|io-out-1',
      'port|io-in-1 → behind|s (return)'
    ])
    const k = loop({ sendDb: null })
    k.session.channel.t!.parked = true
    expect(of(k, 'loop l').every(e => e.endsWith('(parked)'))).toBe(true)
  })
  it('that names no loop is a way like any other', () => {
    expect(of(loop({}, { loop: null }), 'slot s')).toEqual([
      'input|t → behind|s (wet)',
      'input|t → slot|s',
      'slot|s → behind|s'
    ])
  })
})

describe('walks', () => {
  it('upstream go by open ways, and name the closed ones at their rim', () => {
    const k = session()
    k.main(k.track('u', 'm'), 'main', { id: 'um', muted: true })
    const edges = new Edges(k.session)
    const { nodes, rim, edges: passed } = upstreamOf(edges, nodeName('post', 'main'))
    expect(nodes.has('clips|t')).toBe(true)
    expect(nodes.has('post|u')).toBe(false)
    expect([...rim].map(said)).toEqual(['post|u → arriving|main (feedMuted)'])
    expect([...passed].map(said)).toContain('post|t → arriving|main')
    const without = upstreamOf(edges, nodeName('post', 'main'), e => e.by.table === 'feed')
    expect([...without.nodes].sort()).toEqual(['arriving|main', 'fader|main', 'input|main', 'post|main', 'pre|main'])
    expect(without.rim.size).toBe(0)
  })
  it('downstream find the nearest first, each with the way it was come by', () => {
    const k = session()
    const edges = new Edges(k.session)
    const all = downstreamOf(edges, [nodeName('post', 't')], () => true)
    expect([...all.keys()]).toEqual(['post|t', 'arriving|main', 'input|main', 'pre|main', 'fader|main', 'post|main'])
    expect(all.get('post|t')).toBeNull()
    expect(said(all.get('arriving|main')!)).toBe('post|t → arriving|main')
    expect([...downstreamOf(edges, ['post|t'], e => e.by.table !== 'feed').keys()]).toEqual(['post|t'])
  })
  it('have the same order whatever that of the rows', () => {
    const k = session()
    k.bus('another')
    const turned = { ...k.session, channel: Object.fromEntries(Object.entries(k.session.channel).reverse()) }
    turned.cable = Object.fromEntries(Object.entries(k.session.cable).reverse())
    const list = (s: typeof k.session) => [...new Edges(s).outOf.values()].flat().map(said)
    expect(list(turned as never)).toEqual(list(k.session))
  })
  it('name nodes whose ids hold the mark between', () => {
    expect(nodeOf(nodeName('post', 'a|b'))).toEqual({ kind: 'post', id: 'a|b' })
  })
})

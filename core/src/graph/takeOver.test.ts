import { describe, expect, it } from 'vitest'
import { TAPS, type Tap } from '../session/rows'
import { Sketch } from '../testing/sketch'
import { Network } from './network'
import { heardPath, pathToEars, stagesToEars } from './path'
import { heardBefore, heardNext, printInPlaceOf } from './takeOver'

/** A bus with a feed from every tap, printed from one. */
function printed(tap: Tap, print: object = {}, track: object = {}) {
  const k = new Sketch()
  k.bus('main', { role: 'main' })
  k.bus('room')
  k.bus('bus')
  for (const from of TAPS) k.send('bus', 'room', -6, from, { id: from })
  k.main('bus', 'main', { id: 'main-feed' })
  k.key('bus', k.slot('main', 'compressor'), 'post', { id: 'key' })
  k.track('kept', undefined, { layout: ['L', 'R'], ...track })
  k.add('print', { id: 'p', channel: 'kept', source: 'bus', tap, takesOver: true, ...print })
  const network = new Network(k.session)
  return (feed: string) => printInPlaceOf(network, k.session.feed[feed]!)?.id
}

describe('a print that takes over', () => {
  it('stands for what leaves at its tap or behind it', () => {
    const replaced = (tap: Tap) => TAPS.filter(feed => printed(tap)(feed) === 'p')
    expect(replaced('input')).toEqual(['input', 'pre', 'post'])
    expect(replaced('pre')).toEqual(['pre', 'post'])
    expect(replaced('post')).toEqual(['post'])
    expect(printed('post')('main-feed')).toBe('p')
  })

  it('leaves keys alone', () => {
    expect(printed('input')('key')).toBeUndefined()
  })

  it('stands for nothing where it does not take over, is parked, or is its own source', () => {
    expect(printed('input', { takesOver: false })('post')).toBeUndefined()
    expect(printed('input', {}, { parked: true })('post')).toBeUndefined()
    expect(printed('input', { channel: 'bus' })('post')).toBeUndefined()
  })
})

describe('the way that is heard', () => {
  function through(print: object = {}, track: object = {}): Network {
    const k = new Sketch()
    k.bus('main', { role: 'main' })
    k.bus('bus')
    k.track('a')
    k.main('a', 'bus')
    k.main('bus', 'main')
    k.track('kept', undefined, { layout: ['L', 'R'], ...track })
    k.main('kept', 'main')
    k.add('print', { id: 'p', channel: 'kept', source: 'bus', tap: 'post', takesOver: true, ...print })
    k.session.session.session.heardChannel = 'main'
    return new Network(k.session)
  }
  it('leads through the print in the place of its source; the way that is drawn does not', () => {
    const network = through()
    expect(heardPath(network, 'a')).toEqual(['a', 'bus', 'kept', 'main'])
    expect(stagesToEars(network, 'a').map(s => s.id)).toEqual(['a', 'bus', 'kept', 'main'])
    expect(pathToEars(network, 'a')).toEqual(['a', 'bus', 'main'])
    expect([heardNext(network, 'bus'), heardBefore(network, 'kept'), heardBefore(network, 'main')]).toEqual([
      ['kept'],
      ['bus'],
      ['kept']
    ])
  })
  it.each([
    ['stands by itself', { takesOver: false }, {}],
    ['is parked', {}, { parked: true }]
  ])('leads past a print that %s', (_, print, track) => {
    const network = through(print, track)
    expect(heardPath(network, 'a')).toEqual(['a', 'bus', 'main'])
    expect(heardBefore(network, 'kept')).toEqual([])
  })
})

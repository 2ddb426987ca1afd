import { describe, expect, it } from 'vitest'
import { Refusal } from '../foundation/refusal'
import { Sketch } from '../testing/sketch'
import { readPackage, writePackage } from './package'
import { channelNamed } from '../session/find'

const byHand = {
  nullet: 1,
  session: { name: 'By hand' },
  medium: [{ id: 'di', name: 'DI', file: 'audio/di.wav' }],
  channel: [
    { id: 'kora', name: 'Kora', kind: 'track', layout: ['M'] },
    { id: 'main', name: 'Main', kind: 'bus', role: 'main' }
  ],
  clip: [{ id: 'c', channel: 'kora', medium: 'di' }],
  feed: [{ id: 'f', kind: 'main', from: 'kora', to: 'main' }],
  slot: [{ id: 's', channel: 'kora', processor: 'compressor', params: { ratio: 4 } }]
}
// eslint-disable-next-line @typescript-eslint/no-explicit-any
const text = (change: (d: any) => void = () => {}) => {
  const d = structuredClone(byHand)
  change(d)
  return JSON.stringify(d)
}
const refusal = (t: string): string => {
  try {
    readPackage(t)
  } catch (e) {
    if (e instanceof Refusal) return e.message
    throw e
  }
  throw new Error('was accepted')
}

describe('reading', () => {
  it('fills in everything but ids, names and kinds', () => {
    const { session, notes } = readPackage(text())
    expect(notes).toEqual([])
    expect(session.session.session).toMatchObject({ name: 'By hand', sampleRate: 48000 })
    expect(session.channel.kora).toMatchObject({ role: 'track', levelDb: 0, muted: false })
    expect(session.feed.f).toMatchObject({ tap: 'post', levelDb: 0 })
  })

  it('writes the same bytes again and again', () => {
    const once = writePackage(readPackage(text()).session)
    expect(writePackage(readPackage(once).session)).toBe(once)
  })

  it('keeps a processor it lacks with all its settings', () => {
    const { session } = readPackage(
      text(d => {
        d.slot[0] = {
          id: 's',
          channel: 'kora',
          processor: 'moon-phaser',
          params: { depth: 0.3, mode: 'wide' },
          kept: { blob: [1, 2, { z: 1, a: 2 }] }
        }
      })
    )
    expect(session.slot.s).toMatchObject({
      processor: 'moon-phaser',
      params: { depth: 0.3, mode: 'wide' },
      kept: { blob: [1, 2, { z: 1, a: 2 }] }
    })
    expect(readPackage(writePackage(session)).session.slot.s).toEqual(session.slot.s)
  })

  it('brings settings out of range to the edge and says so', () => {
    const { session, notes } = readPackage(
      text(d => {
        d.slot[0].params = { ratio: 500, sparkle: 3 }
      })
    )
    expect(session.slot.s.params).toEqual({ ratio: 100 })
    expect(notes).toEqual([
      'Compressor on “Kora”: Ratio was 500, now 100',
      'Compressor on “Kora”: the setting “sparkle” is not known and was left out'
    ])
  })
})

describe('refusing', () => {
  it.each<[string, string, RegExp]>([
    ['no JSON', '{', /not JSON/],
    [
      'another version',
      text(d => {
        d.nullet = 9
      }),
      /not a session package of a version known/
    ],
    [
      'a dangling id',
      text(d => {
        d.feed[0].to = 'nowhere'
      }),
      /feed “f”\) names the channel “nowhere” in its field to/
    ],
    [
      'an unknown table',
      text(d => {
        d.channels = []
      }),
      /table “channels” that is not known/
    ],
    [
      'an unknown field',
      text(d => {
        d.channel[0].levelDB = 3
      }),
      /field “levelDB” that is not known/
    ],
    [
      'a missing name',
      text(d => {
        delete d.channel[0].name
      }),
      /channel “kora” is not right/
    ],
    [
      'two rows of one id',
      text(d => {
        d.channel[1].id = 'kora'
      }),
      /Two rows of “channel” have the id “kora”/
    ],
    [
      'a circle',
      text(d => {
        d.channel.push({ id: 'b', name: 'B', kind: 'bus' })
        d.feed.push({ id: 'g', kind: 'main', from: 'main', to: 'b' }, { id: 'h', kind: 'send', from: 'b', to: 'main' })
      }),
      /circle: Main → B → Main|circle: B → Main → B/
    ]
  ])('%s', (_, document, words) => expect(refusal(document)).toMatch(words))

  it('an ambiguous name lists the candidates', () => {
    const k = new Sketch()
    k.track('t1', undefined, { name: 'Choir' })
    k.track('t2', undefined, { name: 'Choir' })
    k.bus('m', { name: 'Main' })
    expect(channelNamed(k.session, 'main').id).toBe('m')
    expect(() => channelNamed(k.session, 'Choir')).toThrow(/2 channels: t1, t2/)
    expect(() => channelNamed(k.session, 'Oboe')).toThrow(/There are: Choir, Choir, Main/)
  })
})

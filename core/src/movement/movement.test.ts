// Points and what is done with them: values, thinning, splicing, the edits that write them, and where they go along.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { readPackage, writePackage } from '../formats/package'
import { fingerprint } from '../print/fingerprint'
import { printRows } from '../print/printRows'
import { Dice } from '../testing/generated'
import type { EnvelopePoint, Row } from '../session/rows'
import { rows, type Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { spliced, valueAt } from './envelope'
import { thin } from './thin'

function sketch(): Session {
  const k = new Sketch('test')
  k.bus('main', { role: 'main' })
  k.bus('hall', { role: 'return' })
  k.main('hall', 'main')
  for (const id of ['a', 'b']) {
    k.track(id)
    k.main(id, 'main')
    k.send(id, 'hall', -6)
    k.slot(id, 'equaliser')
    k.slot(id, 'compressor')
  }
  return k.session
}
const set = (s: Session, owner: string, row: string, field: string, points: EnvelopePoint[], more = {}) =>
  applyEdit(s, {
    verb: 'setEnvelope',
    args: { id: `e-${row}-${field}`, target: { owner, row, field }, points, ...more }
  }).session
const slot = (s: Session, channel: string, processor: string) =>
  rows(s, 'slot').find(x => x.channel === channel && x.processor === processor)!.id
const feed = (s: Session, from: string, kind: string) =>
  rows(s, 'feed').find(f => f.from === from && f.kind === kind)!.id
const LINE: EnvelopePoint[] = [
  [0, 0],
  [1000, -10]
]

describe('a value at a frame', () => {
  it('is straight in the law of what moves', () => {
    expect(
      valueAt(
        [
          [0, 0],
          [100, -20]
        ],
        25,
        'db'
      )
    ).toBeCloseTo(-5, 12)
    expect(
      valueAt(
        [
          [0, 100],
          [100, 10000]
        ],
        50,
        'ratio'
      )
    ).toBeCloseTo(1000, 9)
    expect(
      valueAt(
        [
          [0, -1],
          [100, 1]
        ],
        75,
        'linear'
      )
    ).toBeCloseTo(0.5, 12)
  })
  it('stays before the first and after the last point, and steps where two share a frame', () => {
    const points: EnvelopePoint[] = [
      [10, 3],
      [20, 3],
      [20, 7],
      [30, 7]
    ]
    expect([0, 19, 20, 99].map(f => valueAt(points, f, 'linear'))).toEqual([3, 3, 7, 7])
  })
})

describe('thinning', () => {
  it('keeps every point within the tolerance, over a thousand random rides', () => {
    const dice = new Dice(7)
    for (let run = 0; run < 1000; run++) {
      let db = 0
      const points = Array.from({ length: 5 + Math.floor(dice.next() * 60) }, (_, i): EnvelopePoint => [
        i * 800,
        (db += (dice.next() - 0.5) * 2)
      ])
      const few = thin(points, 0.1, 'db')
      for (const [frame, value] of points)
        expect(Math.abs(valueAt(few, frame, 'db') - value!)).toBeLessThanOrEqual(0.1 + 1e-9)
      expect([few[0], few.at(-1)]).toEqual([points[0], points.at(-1)])
    }
  })
  it('leaves two points of a straight line of ten thousand', () => {
    expect(
      thin(
        Array.from({ length: 10000 }, (_, i): EnvelopePoint => [i, i / 1000]),
        0.1,
        'db'
      )
    ).toEqual([
      [0, 0],
      [9999, 9.999]
    ])
  })
})

describe('splicing a ride in', () => {
  const old: EnvelopePoint[] = [
    [0, 0],
    [1000, -10],
    [2000, 0]
  ]
  it('leaves the old line before and after, with a step where the hand took over and a glide where it let go', () => {
    const made = spliced(
      old,
      [
        [500, 2],
        [800, 3]
      ],
      'db',
      100
    )
    expect(made).toEqual([
      [0, 0],
      [500, -5],
      [500, 2],
      [800, 3],
      [900, -9],
      [1000, -10],
      [2000, 0]
    ])
    for (const f of [0, 499, 900, 1500, 2500])
      if (f !== 499) expect(valueAt(made, f, 'db')).toBeCloseTo(valueAt(old, f, 'db'), 9)
  })
  it('over the whole of it leaves nothing of the old one', () =>
    expect(
      spliced(
        old,
        [
          [0, 1],
          [5000, 1]
        ],
        'db'
      )
    ).toEqual([
      [0, 0],
      [0, 1],
      [5000, 1],
      [5000, 0]
    ]))
})

describe('edits', () => {
  it('one target has one envelope, whatever id comes along', () => {
    const s = set(set(sketch(), 'channel', 'a', 'levelDb', LINE), 'channel', 'a', 'levelDb', [[5, -1]], {
      id: 'another'
    })
    expect(rows(s, 'envelope').map(e => [e.id, e.points])).toEqual([['e-a-levelDb', [[5, -1]]]])
  })

  it.each([
    ['a value beyond the range', 'channel', 'a', 'levelDb', [[0, 40]], /takes -60 to 12 dB/],
    ['−∞ for a pan', 'channel', 'a', 'pan', [[0, null]], /Pan of “a” cannot be −∞ at frame 0/],
    ['a field that keeps still', 'channel', 'a', 'trimDb', LINE, /cannot follow an envelope/],
    [
      'points out of order',
      'channel',
      'a',
      'levelDb',
      [
        [9, 0],
        [3, 0]
      ],
      /in order of time/
    ],
    ['a channel that is not there', 'channel', 'z', 'levelDb', LINE, /cannot follow an envelope/],
    [
      'more points than fit',
      'channel',
      'a',
      'levelDb',
      Array.from({ length: 20001 }, (_, i) => [i, 0]),
      /at most 20000 points/
    ]
  ])('%s is refused with the reason, and nothing changes', (_, owner, row, field, points, reason) => {
    expect(() => set(sketch(), owner, row, field, points as EnvelopePoint[])).toThrow(reason)
  })

  it('a setting that shapes the plan keeps still; others move in their law', () => {
    const s = sketch(),
      id = slot(s, 'a', 'compressor')
    expect(() => set(s, 'slot', id, 'lookAheadMs', [[0, 1]])).toThrow(/cannot follow/)
    expect(() => set(s, 'slot', id, 'detector', [[0, 1]])).toThrow(/cannot follow/)
    expect(rows(set(s, 'slot', id, 'thresholdDb', [[0, -30]]), 'envelope')).toHaveLength(1)
  })

  it('an envelope goes with the slot, feed or channel that it moves', () => {
    let s = sketch()
    s = set(
      set(set(s, 'slot', slot(s, 'a', 'equaliser'), 'db1', LINE), 'feed', feed(s, 'a', 'send'), 'levelDb', LINE),
      'channel',
      'a',
      'pan',
      [[0, 0]]
    )
    const left = (verb: string, args: object) =>
      rows(applyEdit(s, { verb, args }).session, 'envelope')
        .map(e => e.field)
        .sort()
    expect(left('removeSlot', { id: slot(s, 'a', 'equaliser') })).toEqual(['levelDb', 'pan'])
    expect(left('removeFeeds', { ids: [feed(s, 'a', 'send')] })).toEqual(['db1', 'pan'])
    expect(left('removeChannels', { ids: ['a'] })).toEqual([])
  })

  it('movement is copied onto what answers to it on another channel', () => {
    let s = sketch()
    s = set(
      set(set(s, 'slot', slot(s, 'a', 'compressor'), 'makeupDb', LINE), 'feed', feed(s, 'a', 'send'), 'levelDb', LINE),
      'channel',
      'a',
      'levelDb',
      LINE
    )
    const copied = applyEdit(s, {
      verb: 'copyEnvelopes',
      args: { ids: rows(s, 'envelope').map(e => e.id), from: 'a', to: ['b', 'main'], prefix: 'c' }
    }).session
    const of = (row: string) =>
      rows(copied, 'envelope')
        .filter(e => (e.channel ?? e.feed ?? e.slot) === row)
        .map(e => e.points)
    expect([of('b'), of(slot(s, 'b', 'compressor')), of(feed(s, 'b', 'send')), of('main')]).toEqual([
      [LINE],
      [LINE],
      [LINE],
      [LINE]
    ])
  })

  it('a duplicate takes its movement along where it is wanted', () => {
    let s = sketch()
    s = set(set(s, 'slot', slot(s, 'a', 'compressor'), 'makeupDb', LINE), 'channel', 'a', 'levelDb', LINE)
    const duplicate = (along: string[]) =>
      rows(
        applyEdit(s, {
          verb: 'duplicateChannels',
          args: { copies: [{ of: 'a', id: 'n', name: 'n', order: 'z1' }], along }
        }).session,
        'envelope'
      )
    expect(duplicate(['slots'])).toHaveLength(2)
    expect(duplicate(['envelopes']).filter(e => e.channel === 'n')).toHaveLength(1)
    expect(
      duplicate(['slots', 'envelopes'])
        .map(e => e.channel ?? e.slot)
        .sort()
    ).toEqual(['a', 'n', `n/${slot(s, 'a', 'compressor')}`, slot(s, 'a', 'compressor')].sort())
  })
})

describe('prints', () => {
  const moved = () => {
    let s = sketch()
    s = set(s, 'channel', 'a', 'levelDb', LINE)
    s = set(s, 'channel', 'a', 'pan', [
      [0, -1],
      [9, 1]
    ])
    return set(s, 'feed', feed(s, 'a', 'send'), 'levelDb', LINE)
  }
  const envelopes = (tap: 'pre' | 'post') =>
    printRows(
      moved(),
      {
        source: 'a',
        tap,
        print: 'p',
        track: 'pt',
        clip: 'pc',
        medium: 'pm',
        name: 'a print',
        order: 'z',
        takesOver: true,
        share: null,
        through: null,
        pass: 0,
        take: null
      },
      {
        layout: ['L', 'R'],
        sha256: '',
        frames: 10,
        peakDb: 0,
        loudnessLufs: null,
        sampleRate: 48000,
        fingerprint: '',
        parts: {},
        seed: 1,
        startFrame: 0,
        latencySamples: 0,
        residualDb: null,
        verified: 'not yet',
        notes: [],
        faults: [],
        printedAt: ''
      }
    )
      .filter(r => r.table === 'envelope')
      .map(r => r.row as Row<'envelope'>)

  it('before the fader: the new track gets the ride, the placement and the sends’ rides', () => {
    expect(
      envelopes('pre')
        .map(e => [e.channel ?? e.feed, e.field])
        .sort()
    ).toEqual(
      [
        ['pt', 'levelDb'],
        ['pt', 'pan'],
        [`p/${feed(sketch(), 'a', 'send')}`, 'levelDb']
      ].sort()
    )
  })
  it('after it: the ride is in the audio, placement moves into the feeds', () => {
    const s = sketch()
    expect(
      envelopes('post')
        .map(e => [e.channel ?? e.feed, e.field])
        .sort()
    ).toEqual(
      [
        [`p/${feed(s, 'a', 'send')}`, 'levelDb'],
        [`p/${feed(s, 'a', 'send')}`, 'pan'],
        [`p/${feed(s, 'a', 'main')}`, 'pan']
      ].sort()
    )
  })
  it('a changed envelope makes the fingerprint another; one that is off does not count', () => {
    const of = (s: Session, tap: 'pre' | 'post' = 'post') =>
      fingerprint(s, 'main', tap, { seed: 1, from: 0, frames: 9 }).hash
    const s = sketch(),
      id = slot(s, 'a', 'equaliser')
    const each = [
      s,
      set(s, 'channel', 'a', 'levelDb', LINE),
      set(s, 'channel', 'a', 'pan', [[0, 0.1]]),
      set(s, 'feed', feed(s, 'a', 'main'), 'levelDb', LINE),
      set(s, 'slot', id, 'db1', LINE),
      set(s, 'slot', id, 'db1', [[0, 3]])
    ]
    expect(new Set(each.map(e => of(e))).size).toBe(each.length)
    expect(of(set(s, 'channel', 'a', 'levelDb', LINE, { on: false }))).toBe(of(s))
  })
})

describe('in a package', () => {
  const written = (envelope: object[]) =>
    JSON.stringify({ ...(JSON.parse(writePackage(sketch())) as object), envelope })
  it('comes back as it was', () => {
    const s = set(sketch(), 'channel', 'a', 'levelDb', [
      [0, 0],
      [10, null],
      [10, -3.25]
    ])
    expect(readPackage(writePackage(s)).session.envelope).toEqual(s.envelope)
  })
  it('unsorted points, values beyond the range, still settings and doubles are put right and said', () => {
    const { session, notes } = readPackage(
      written([
        {
          id: 'one',
          channel: 'a',
          field: 'levelDb',
          points: [
            [500, -3],
            [20, 99]
          ]
        },
        { id: 'two', channel: 'a', field: 'levelDb', points: [] },
        { id: 'three', channel: 'a', field: 'trimDb', points: [] }
      ])
    )
    expect(session.envelope).toMatchObject({
      one: {
        points: [
          [20, 12],
          [500, -3]
        ]
      }
    })
    expect(Object.keys(session.envelope)).toEqual(['one'])
    expect(notes).toEqual([
      expect.stringMatching(/“one” were not in order/),
      expect.stringMatching(/“one”: a point was beyond -60 to 12 dB/),
      expect.stringMatching(/“three” moves “trimDb”/),
      expect.stringMatching(/“two” moves what another one moves/)
    ])
  })
  it.each([
    ['no target', { id: 'x', field: 'levelDb' }, /one of a channel, a feed or a slot/],
    ['a target that is not there', { id: 'x', channel: 'zz', field: 'levelDb' }, /names the channel “zz”/],
    ['a negative frame', { id: 'x', channel: 'a', field: 'levelDb', points: [[-4, 0]] }, /envelope “x” is not right/]
  ])('%s is refused by name', (_, row, reason) => expect(() => readPackage(written([row]))).toThrow(reason))
})

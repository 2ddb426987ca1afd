// Rules hold whatever is done: by generated edits, by generated packages, and for each rule by the case that breaks it.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { compile } from '../compile/compile'
import { Machine } from '../run/machine'
import { readPackage, writePackage } from '../formats/package'
import { Refusal } from '../foundation/refusal'
import { demoLike } from '../testing/demoLike'
import { Dice, generatedNetwork } from '../testing/generated'
import { generatedEdit, GENERATED_VERBS, hostileEdit } from '../testing/generatedEdits'
import { asSession, inverse, rows, withChanges, type RowChange, type Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { firstBreach, mended } from '.'

/** What a refusal must be: a sentence for a person, without a program's words in it. */
function refusalOf(act: () => unknown): Refusal | null {
  try {
    act()
    return null
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    expect(error.message).not.toMatch(/undefined|\[object|TypeError|→ at|\{\s*"|Invalid input/)
    return error
  }
}

const EDITS = process.env.NULLET_LONG ? 40_000 : 1500

describe('generated edits', () => {
  it(`${EDITS} of all verbs, one in four hostile: what is accepted leaves all rules holding and can be taken back exactly; the rest is refused in words`, () => {
    const dice = new Dice(13)
    let serial = 0,
      accepted = 0
    const newId = () => `g${++serial}`,
      verbs = new Set<string>(),
      refused = new Set<string>()
    let session: Session = demoLike().session,
      last: readonly RowChange[] = []
    for (let i = 0; i < EDITS; i++) {
      // Left alone, a session grows for ever.
      if (i % 250 === 249)
        session = dice.chance(0.5)
          ? demoLike().session
          : generatedNetwork(i, { tracks: 6, submixes: 3, returns: 2, stems: 2, sends: 6, keys: 2 }).session
      const hostile = dice.chance(0.25)
      // What has not been carried out yet is tried more often: some need a room that nothing uses.
      const missing = dice.chance(0.2) ? GENERATED_VERBS.filter(v => !verbs.has(v)) : []
      const edit = hostile
        ? hostileEdit(dice, session, newId, last)
        : generatedEdit(dice, session, newId, missing.length ? dice.pick(missing) : undefined)
      const refusal = refusalOf(() => {
        const { session: next, changes } = applyEdit(session, edit)
        expect(firstBreach(next), JSON.stringify(edit)).toBeNull()
        const back = applyEdit(next, { verb: 'revert', args: { label: 'Undo', changes: inverse(changes) } }).session
        expect(back).toEqual(session)
        session = next
        last = changes
        accepted++
        if (!hostile) verbs.add(edit.verb)
      })
      if (refusal) refused.add(refusal.kind)
    }
    expect(accepted).toBeGreaterThan(EDITS / 3)
    expect(GENERATED_VERBS.filter(v => !verbs.has(v))).toEqual([])
    expect([...refused]).toEqual(
      expect.arrayContaining(['circle', 'notFound', 'badArguments', 'idTaken', 'layout', 'portTaken', 'stale'])
    )
    expect(({} as Record<string, unknown>).levelDb).toBeUndefined()
    expect(Object.keys(Object.prototype)).toEqual([])
  })

  it('leave sessions that can be played', () => {
    const dice = new Dice(3)
    let serial = 0,
      session: Session = demoLike().session
    for (let i = 0; i < 160; i++) {
      refusalOf(() => {
        session = applyEdit(
          session,
          generatedEdit(dice, session, () => `h${++serial}`)
        ).session
      })
      if (i % 20 === 0 && session.channel.main) {
        const plan = compile(session, { taps: [{ channel: 'main', tap: 'post' }], live: true })
        expect(() => new Machine(plan.ops)).not.toThrow()
      }
    }
  })
})

describe('generated packages', () => {
  it('300 with something changed at random are opened with all rules holding, or refused in words', () => {
    const dice = new Dice(21),
      text = writePackage(demoLike().session)
    let opened = 0
    for (let i = 0; i < 300; i++) {
      const document = JSON.parse(text) as Record<string, Record<string, unknown>[]>
      for (let n = 0; n <= dice.below(2); n++) {
        const table = dice.pick(Object.keys(document).filter(k => Array.isArray(document[k])))
        const row = dice.pick(document[table]!),
          field = dice.pick(Object.keys(row)),
          other = dice.pick(document[dice.pick(Object.keys(document).filter(k => Array.isArray(document[k])))]!)
        row[field] = dice.pick<unknown>([
          other.id,
          other[dice.pick(Object.keys(other))],
          null,
          1e9,
          -5,
          'x',
          ['L', 'L'],
          '__proto__',
          '\0'
        ])
      }
      refusalOf(() => {
        expect(firstBreach(readPackage(JSON.stringify(document)).session)).toBeNull()
        opened++
      })
    }
    expect(opened).toBeGreaterThan(10)
  })
})

/** Sessions with one thing in them that breaks a rule. */
const BROKEN: [string, (k: Sketch) => void, RegExp][] = [
  ['a main feed to a track', k => k.main('drums', 'low'), /ends at a track/],
  ['a send to a track', k => k.send('hall', 'low', -6), /ends at a track/],
  [
    'a key feed without a slot',
    k => k.add('feed', { id: 'x', kind: 'key', from: 'low' }),
    /lacks a slot that it steers/
  ],
  ['a main feed without a source', k => k.add('feed', { id: 'x', kind: 'main', to: 'main' }), /lacks a source/],
  [
    'a key into a reverb',
    k => k.key('low', rows(k.session, 'slot').find(s => s.processor === 'reverb')!.id),
    /no key input/
  ],
  [
    'a port feed into a port in',
    k => k.add('feed', { id: 'x', kind: 'port', from: 'main', ports: ['desk-in-2'] }),
    /not a port out/
  ],
  ['a loop slot without a loop', k => k.slot('hall', 'loop'), /names none/],
  ['a reverb that names a loop', k => k.slot('hall', 'reverb', {}, { loop: 'amp-loop' }), /names a loop as well/],
  ['one loop in two slots', k => k.slot('singers', 'loop', {}, { loop: 'amp-loop' }), /in use on “Drums”/],
  [
    'two plugged loops on one port',
    k => {
      k.add('loop', { id: 'l2', rig: 'loft', name: 'Second', outPorts: ['desk-out-1'], inPorts: ['desk-in-2'] })
      k.slot('singers', 'loop', {}, { loop: 'l2' })
    },
    /“Out 1” is in use/
  ],
  [
    'two plugged loops through one unit',
    k => {
      k.cable('loft', 'desk-out-2', 'amp:0')
      for (const c of rows(k.session, 'cable').filter(c => c.fromPort === 'desk-out-1')) delete k.session.cable[c.id]
      k.cable('loft', 'desk-out-1', 'box:0')
      k.unit('box', 'loft', 'valve-compressor')
      k.cable('loft', 'box:0', 'desk-in-2')
      k.add('loop', { id: 'l2', rig: 'loft', name: 'Second', outPorts: ['desk-out-2'], inPorts: ['desk-in-2'] })
      k.slot('singers', 'loop', {}, { loop: 'l2' })
      k.cable('loft', 'amp:0', 'box:1')
    },
    /is in use/
  ],
  [
    'a port feed onto a plugged loop’s port',
    k => k.add('feed', { id: 'x', kind: 'port', from: 'main', ports: ['desk-out-1'] }),
    /cannot end there/
  ],
  [
    'a loop on a port of another rig',
    k => {
      k.rig('dome')
      k.interface('io', 'dome', 1, 1)
      k.add('loop', { id: 'l3', rig: 'loft', name: 'Far', outPorts: ['io-out-1'] })
    },
    /another rig/
  ],
  ['a setting beyond its range', k => k.slot('hall', 'reverb', { decayS: 1e9 }), /cannot be 1000000000/],
  ['a setting that is not known', k => k.slot('hall', 'reverb', { sparkle: 1 }), /no setting “sparkle”/],
  [
    'a response that is not there',
    k => k.slot('hall', 'convolution', { response: 'constructor' }),
    /no impulse response “constructor”/
  ],
  ['a unit of no kind', k => k.unit('odd', 'loft', 'constructor'), /no unit of the kind/],
  [
    'a unit’s setting beyond its range',
    k => k.unit('odd', 'loft', 'tube-amplifier', { driveDb: 500 }),
    /Drive cannot be 500/
  ],
  ['a speaker twice in a layout', k => k.bus('odd', { layout: ['L', 'L'] }), /names the speaker L twice/],
  ['a flipped leg that is not there', k => k.bus('odd', { flippedLegs: [2] }), /has no leg 3/],
  [
    'a clip that plays a leg its audio lacks',
    k => {
      k.session.clip['low-clip']!.legMap = [1]
    },
    /plays leg 2/
  ],
  ['a cable into an output', k => k.cable('loft', 'amp:0', 'desk-out-2'), /which is an output/],
  ['a cable to a jack that is not there', k => k.cable('loft', 'desk-out-2', 'amp:5'), /has 1/],
  ['two plugs in one jack', k => k.cable('loft', 'desk-out-2', 'amp:0'), /plugged in already/],
  ['a clip on a bus', k => k.add('clip', { id: 'x', channel: 'drums', medium: 'm-low' }), /lies on the bus/],
  [
    'an envelope of what keeps still',
    k => k.add('envelope', { id: 'x', channel: 'low', field: 'trimDb' }),
    /cannot move/
  ],
  [
    'two envelopes of one level',
    k => {
      k.move({ channel: 'low' }, 'levelDb', [[0, 0]])
      k.move({ channel: 'low' }, 'levelDb', [[0, -3]])
    },
    /another one moves already/
  ],
  ['an envelope beyond its range', k => k.move({ channel: 'low' }, 'levelDb', [[0, 40]]), /cannot be 40 at frame 0/],
  [
    'a strip in two links',
    k => {
      for (const id of ['k1', 'k2']) k.add('link', { id, name: id, members: ['low', 'edge'] })
    },
    /already/
  ],
  ['a link of one', k => k.add('link', { id: 'k1', name: 'Alone', members: ['low'] }), /needs two strips/],
  ['a name of a row that is not there', k => k.main('low', 'nowhere'), /names the channel “nowhere”/],
  [
    'a circle',
    k => {
      k.main('main', 'drums')
    },
    /circle/
  ],
  [
    'a name with NUL in it',
    k => {
      k.session.channel.low!.name = 'a\0b'
    },
    /cannot be kept/
  ],
  [
    'a row under another id',
    k => {
      k.session.channel.other2 = k.session.channel.low!
    },
    /its id is “low”/
  ],
  [
    'an id of other letters',
    k => {
      k.session.channel['träck one'] = { ...k.session.channel.low!, id: 'träck one' }
    },
    /an id has/
  ],
  [
    'an unknown field',
    k => {
      Object.assign(k.session.channel.low!, { sparkle: 3 })
    },
    /a field “sparkle”/
  ],
  [
    'a frame beyond all time',
    k => {
      k.session.clip['low-clip']!.startFrame = 2 ** 52
    },
    /startFrame must be at most/
  ],
  [
    'no settings',
    k => {
      delete k.session.session.session
    },
    /without its settings/
  ]
]

describe('each rule', () => {
  it.each(BROKEN)('%s is found and said, and mended to something legal', (_, breaking, words) => {
    const k = demoLike()
    expect(firstBreach(k.session)).toBeNull()
    breaking(k)
    expect(firstBreach(k.session)?.message).toMatch(words)
    const { session, notes } = mended(k.session)
    expect(firstBreach(session)).toBeNull()
    expect(notes.length).toBeGreaterThan(0)
    expect(mended(session).notes).toEqual([])
  })

  it('a feed into a track goes through a new bus that goes where the track goes', () => {
    const k = demoLike()
    k.main('singers', 'low')
    const { session, notes } = mended(k.session)
    const feed = rows(session, 'feed')
      .filter(f => f.kind === 'main')
      .find(f => f.from === 'singers' && f.to !== 'main')!
    expect(session.channel[feed.to]).toMatchObject({ kind: 'bus', name: 'Frame drum low (fed)' })
    expect(
      rows(session, 'feed')
        .filter(f => f.from === feed.to && f.kind === 'main')
        .map(f => f.to)
    ).toEqual(['drums'])
    expect(notes).toEqual([expect.stringContaining('ended at a track and goes to the new bus')])
  })

  it('an id of other letters is renamed wherever it is named', () => {
    const k = demoLike()
    const odd = { ...k.session.channel.low!, id: 'träck one' }
    k.session.channel['träck one'] = odd
    k.add('feed', { id: 'odd-feed', kind: 'main', from: 'low', to: 'drums' })
    Object.assign(k.session.feed['odd-feed']!, { from: 'träck one' })
    const { session } = mended(k.session)
    const id = session.feed['odd-feed']!.from ?? ''
    expect(session.channel[id]).toMatchObject({ id, name: 'Frame drum low' })
  })

  it('two sides of a unit whose wires are apart may have two owners', () => {
    const k = new Sketch()
    k.rig('r')
    k.interface('i', 'r', 2, 2)
    k.unit('w', 'r', 'wire')
    k.bus('a')
    k.bus('b')
    for (const n of [1, 2]) {
      k.cable('r', `i-out-${n}`, `w:${n - 1}`)
      k.cable('r', `w:${n - 1}`, `i-in-${n}`)
      k.add('loop', { id: `l${n}`, rig: 'r', name: `Side ${n}`, outPorts: [`i-out-${n}`], inPorts: [`i-in-${n}`] })
    }
    k.slot('a', 'loop', {}, { loop: 'l1' })
    k.slot('b', 'loop', {}, { loop: 'l2' })
    expect(firstBreach(k.session)).toBeNull()
  })
})

describe('rows of two tables with one id', () => {
  it('both ridden, play: a plan tells its owners apart', () => {
    const k = new Sketch()
    k.bus('main', { role: 'main' })
    k.medium('m', 1, 1000)
    k.track('x', 'm')
    k.add('feed', { id: 'x', kind: 'main', from: 'x', to: 'main' })
    k.move({ channel: 'x' }, 'levelDb', [
      [0, 0],
      [500, -6]
    ])
    k.move({ feed: 'x' }, 'levelDb', [
      [0, -3],
      [500, 0]
    ])
    k.slot('x', 'compressor', {}, { id: 'x' })
    const plan = compile(k.session, { taps: [{ channel: 'main', tap: 'post' }], live: true })
    expect(() => new Machine(plan.ops)).not.toThrow()
    expect(new Set(plan.ops.map(op => op.key)).size).toBe(plan.ops.length)
  })

  it('ids that look like parts of each other’s keys play as well', () => {
    const k = new Sketch()
    k.bus('main', { role: 'main' })
    for (const id of ['a', 'a/in', 'a/in/0', 'a/fader', 'ears', 'port/x']) k.main(k.track(id), 'main')
    const plan = compile(k.session, { taps: [{ channel: 'main', tap: 'post' }], live: true })
    expect(new Set(plan.ops.map(op => op.key)).size).toBe(plan.ops.length)
  })
})

describe('tables', () => {
  it('have no prototype, whatever they went through', () => {
    const k = demoLike()
    const sessions = [
      k.session,
      asSession(structuredClone(k.session)),
      withChanges(k.session, []),
      readPackage(writePackage(k.session)).session,
      applyEdit(k.session, { verb: 'setChannels', args: { ids: ['low'], fields: { muted: true } } }).session
    ]
    for (const s of sessions) for (const table of Object.values(s)) expect(Object.getPrototypeOf(table)).toBeNull()
  })
})

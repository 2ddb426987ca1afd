// Every field of every row: which of them a fingerprint counts, what the part is called that changes, and which it does
// not. A field that is added has to be put into one of the two lists.
import { describe, expect, it } from 'vitest'
import { TABLES, type TableName } from '../session/rows'
import { rows, type Session } from '../session/session'
import { pingOf, Sketch } from '../testing/sketch'
import { fingerprint } from './fingerprint'
import { changedParts, partName, staleParts } from './stale'

const FRAMES = 48000
/** One of everything, upstream of the main. */
function everything(): Session {
  const k = new Sketch('Everything')
  k.bus('main', { role: 'main' })
  k.medium('m', 2, FRAMES, { sha256: 'aa' })
  k.medium('n', 2, FRAMES, { sha256: 'bb' })
  k.medium('r', 1, FRAMES, { sha256: 'cc' })
  k.track('t', 'm')
  k.track('other', 'n')
  k.add('take', { id: 'one', channel: 't', name: 'Take 1' })
  k.add('take', { id: 'two', channel: 't', name: 'Take 2' })
  k.session.channel.t.take = 'one'
  k.session.clip['t-clip'].take = 'one'
  k.track('played', undefined, { layout: ['M'] })
  k.track('printed', 'n', { listen: 'feed' })
  for (const id of ['t', 'other', 'played', 'printed']) k.main(id, 'main')
  k.add('phrase', { id: 'tune', channel: 'played', voice: 'pad', notes: [[0, 1, 60, 100]] })
  k.add('slot', { id: 'first', channel: 't', processor: 'equaliser', params: { kind1: 'bell', db1: 3 } })
  k.add('slot', { id: 'comp', channel: 't', processor: 'compressor', params: { thresholdDb: -20 } })
  k.add('slot', { id: 'echo', channel: 't', processor: 'delay', params: { note: '1/8' } })
  k.add('slot', { id: 'room', channel: 't', processor: 'convolution', params: { response: 'r' } })
  k.add('feed', { id: 'key', kind: 'key', from: 'other', slot: 'comp', tap: 'pre' })
  k.add('feed', { id: 'send', kind: 'send', from: 't', to: 'main', levelDb: -6 })
  k.add('envelope', { id: 'ride', channel: 't', field: 'levelDb', points: [[0, -3]] })
  k.add('envelope', { id: 'sweep', channel: 't', field: 'pan', points: [[0, -0.5]] })
  k.add('envelope', { id: 'feed-ride', feed: 'send', field: 'levelDb', points: [[0, -9]] })
  k.add('envelope', { id: 'turn', slot: 'first', field: 'db1', points: [[0, 2]] })
  k.rig('loft')
  k.interface('desk', 'loft', 3, 3)
  k.add('interface', { ...k.session.interface.desk, id: 'spare-desk', name: 'Spare desk' })
  k.unit('amp', 'loft', 'tube-amplifier')
  k.cable('loft', 'desk-out-1', 'amp:0')
  k.cable('loft', 'amp:0', 'desk-in-1')
  k.cable('loft', 'desk-out-3', 'desk-in-3')
  k.add('loop', { id: 'loop', rig: 'loft', name: 'Amp loop', outPorts: ['desk-out-1'], inPorts: ['desk-in-1'] })
  k.add('slot', { id: 'through', channel: 't', processor: 'loop', loop: 'loop' })
  k.add('print', { id: 'p', channel: 'printed', source: 'other', tap: 'pre', takesOver: true, frames: FRAMES })
  k.bus('room-bus')
  k.bus('side')
  k.main('room-bus', 'main')
  k.cable('loft', 'desk-out-2', 'desk-in-2')
  k.add('feed', { id: 'out', kind: 'port', from: 't', ports: ['desk-out-2'] })
  k.add('feed', { id: 'in', kind: 'input', to: 'room-bus', ports: ['desk-in-2'] })
  k.add('cable', { id: 'route', rig: 'loft', fromPort: 'desk-out-3', toPort: 'desk-out-2', inside: true, levelDb: -9 })
  k.add('link', { id: 'both', name: 'Both', members: ['t', 'other'] })
  return k.session
}
const cableFrom = (s: Session, end: string) => rows(s, 'cable').find(c => (c.fromPort ?? c.fromUnit) === end)!.id

const EXTRA = { seed: 1, from: 0, frames: FRAMES }
const now = (s: Session) => fingerprint(s, 'main', 'post', EXTRA)
function changed(s: Session, table: TableName, id: string, fields: object): Session {
  const rowsOf = s[table] as Record<string, object>
  return { ...s, [table]: { ...rowsOf, [id]: { ...rowsOf[id], ...fields } } }
}
const clock = { clock: 'free', driftPpm: 3 } as const

/** Table, row, what it becomes, and the parts that say so. */
type Counted = [TableName, string | ((s: Session) => string), object, RegExp]
const COUNTED: Counted[] = [
  ['session', 'session', { sampleRate: 96000 }, /^sample rate or range$/],
  ['session', 'session', { tempo: [[0, 90]] }, /notes of played; Delay on t/],
  ['medium', 'm', { sha256: 'dd' }, /^a clip of t$/],
  ['medium', 'm', { legs: 1 }, /^a clip of t$/],
  ['medium', 'r', { sha256: 'dd' }, /^Impulse reverb on t$/],
  ...Object.entries({
    layout: ['R', 'L'],
    trimDb: -1,
    flippedLegs: [1],
    mutedLegs: [1],
    lowCutHz: 80,
    highCutHz: 9000
  }).map(([field, value]): Counted => ['channel', 't', { [field]: value }, /^input section of t$/]),
  ['channel', 't', { levelDb: -2 }, /^level of t$/],
  ['channel', 't', { pan: 0.25 }, /main feed from t/],
  ['channel', 't', { muted: true }, /level of t/],
  ['channel', 't', { parked: true }, /t/],
  ['channel', 'printed', { listen: 'print' }, /printed/],
  ...Object.entries({
    startFrame: 10,
    offsetFrames: 10,
    frames: 100,
    gainDb: -1,
    fadeInFrames: 5,
    fadeOutFrames: 5,
    legMap: [1, 0]
  }).map(([field, value]): Counted => ['clip', 't-clip', { [field]: value }, /^a clip of t$/]),
  ['clip', 't-clip', { medium: 'n' }, /^a clip of t$/],
  ['clip', 't-clip', { take: 'two' }, /^a clip of t$/],
  ['channel', 't', { take: 'two' }, /^a clip of t$/],
  ['channel', 't', { take: null }, /^a clip of t$/],
  ...Object.entries({ voice: 'pluck', levelDb: -3, startBeat: 1, lengthBeats: 2, repeats: 3, notes: [] }).map(
    ([field, value]): Counted => ['phrase', 'tune', { [field]: value }, /^notes of played$/]
  ),
  ...Object.entries({
    state: 'bypassed',
    processor: 'gate',
    params: { thresholdDb: -30 },
    mix: 0.5,
    keyLowCutHz: 100,
    keyHighCutHz: 5000
  }).map(([field, value]): Counted => ['slot', 'comp', { [field]: value }, /(Compressor|Gate) on t/]),
  ['slot', 'comp', { afterFader: true }, /Compressor on t; Delay on t; Impulse reverb on t/],
  ['slot', 'comp', { order: 'A' }, /Compressor on t; Equaliser on t/],
  ['slot', 'comp', { state: 'off' }, /Compressor on t/],
  ['slot', 'through', { loop: null }, /Loop on t|loop Amp loop|loop/i],
  ['feed', 'send', { kind: 'main' }, /a main feed from t/],
  ['feed', 'send', { from: 'other' }, /a send feed from other/],
  ['feed', 'send', { levelDb: -7 }, /^a send feed from t$/],
  ['feed', 'send', { pan: 0.5 }, /^a send feed from t$/],
  ['feed', 'send', { tap: 'pre' }, /a send feed from t/],
  ['feed', 'send', { to: 'side' }, /send feed from t/],
  ['feed', 'out', { ports: ['desk-out-3'] }, /a port feed from t/],
  ['feed', 'in', { ports: ['desk-in-3'] }, /an? input feed/],
  ['feed', 'send', { muted: true }, /a send feed from t/],
  ['feed', 'key', { slot: 'first' }, /other|Compressor/],
  ['envelope', 'ride', { points: [[0, -4]] }, /^level of t$/],
  ['envelope', 'ride', { on: false }, /^level of t$/],
  ['envelope', 'sweep', { points: [[0, 0.1]] }, /^a main feed from t; a port feed from t; a send feed from t$/],
  ['envelope', 'feed-ride', { points: [[0, -1]] }, /^a send feed from t$/],
  ['envelope', 'turn', { points: [[0, 1]] }, /^Equaliser on t$/],
  ['envelope', 'turn', { field: 'db2' }, /^Equaliser on t$/],
  ['interface', 'desk', { noiseDbfs: -90 }, /^port .*; port /],
  ['interface', 'desk', { dcCornerHz: 5 }, /^port .*; port /],
  ['interface', 'desk', { referenceDbu: 20 }, /^port .*; port /],
  ['interface', 'desk', { trueLatencySamples: 130 }, /^port .*; port /],
  ['interface', 'desk', clock, /^port .*; port /],
  ['port', 'desk-out-1', { signal: 'digital' }, /^port /],
  ['port', 'desk-out-1', { referenceDbu: 22 }, /^port /],
  ['port', 'desk-out-1', { trimDb: 0.3 }, /^port /],
  ['port', 'desk-in-1', { interface: 'spare-desk' }, /^port /],
  ['unit', 'amp', { model: 'wire' }, /amp/],
  ['unit', 'amp', { powered: false }, /amp/],
  ['unit', 'amp', { settings: { driveDb: 31 } }, /^amp$/],
  ['cable', s => cableFrom(s, 'desk-out-1'), { fromPort: 'desk-out-2' }, /a cable/],
  ['unit', 'amp', { plays: 'm' }, /^amp$/],
  ['unit', 'amp', { inverts: true }, /^amp$/],
  ['cable', s => cableFrom(s, 'amp'), { inverts: true }, /a cable/],
  ['cable', 'route', { levelDb: -3 }, /a cable/],
  ['cable', 'route', { inside: false }, /a cable/],
  ['cable', s => cableFrom(s, 'desk-out-1'), { toJack: 1 }, /a cable/],
  ['cable', s => cableFrom(s, 'amp'), { fromJack: 1 }, /a cable/],
  ['cable', s => cableFrom(s, 'desk-out-2'), { toPort: null, toUnit: 'amp' }, /a cable/],
  ['cable', s => cableFrom(s, 'desk-out-2'), { fromPort: null, fromUnit: 'amp' }, /a cable/],
  ['cable', s => cableFrom(s, 'amp'), { toPort: 'desk-in-2' }, /a cable/],
  ['loop', 'loop', { outPorts: ['desk-out-2'] }, /Amp loop/],
  ['loop', 'loop', { inPorts: ['desk-in-2'] }, /Amp loop/],
  ['loop', 'loop', { sendDb: -1 }, /^loop Amp loop$/],
  ['loop', 'loop', { returnDb: -1 }, /^loop Amp loop$/],
  ['loop', 'loop', { inverted: true }, /^loop Amp loop$/],
  ['loop', 'loop', { compensated: false }, /Amp loop/],
  ['loop', 'loop', { ping: pingOf(77), applied: true }, /^loop Amp loop; port /],
  ['interface', 'desk', { reportedLatencySamples: 99 }, /^loop Amp loop; port /],
  ['print', 'p', { source: 't' }, /what printed was printed from/],
  ['print', 'p', { tap: 'post' }, /what printed was printed from/],
  ['print', 'p', { share: 't' }, /printed/],
  ['print', 'p', { takesOver: false }, /other|printed/]
]

/** What a row is and whose: with another of these it is another row. */
const OWN = new Set(['id', 'rig', 'channel', 'interface', 'direction'])
/** Fields that never change alone: a medium’s go with its hash, the others with what the row is. */
const ELSEWHERE = new Set(['channel.kind', 'envelope.feed', 'envelope.slot', 'medium.frames', 'medium.sampleRate'])

const SAME: [TableName, string, object][] = [
  [
    'session',
    'session',
    {
      name: 'Other',
      heardChannel: 't',
      heardLevelDb: -9,
      beatsPerBar: 3,
      rig: 'loft',
      heardAs: 'mono',
      seed: 9,
      families: []
    }
  ],
  [
    'medium',
    'm',
    { name: 'x', file: 'x.wav', originalRate: 44100, peakDb: -1, loudnessLufs: -20, title: 'x', timeReference: 4 }
  ],
  [
    'channel',
    't',
    {
      name: 'x',
      role: 'track',
      family: 'x',
      familyGuessed: true,
      colour: 4,
      order: 'z',
      soloed: true,
      safe: true,
      ready: true,
      sourceDbu: 12,
      reference: 'other'
    }
  ],
  ['clip', 't-clip', { name: 'x' }],
  ['take', 'one', { name: 'x', order: 'z', rating: 'best' }],
  ['phrase', 'tune', { name: 'x', as: 'steps', stepBeats: 0.5 }],
  ['slot', 'comp', { kept: { a: 1 } }],
  ['feed', 'send', { withMute: true }],
  ['rig', 'loft', { name: 'x', order: 'z', entry: 'library' }],
  ['interface', 'desk', { name: 'x', sampleRates: [48000] }],
  ['interface', 'desk', { driftPpm: 40 }],
  ['port', 'desk-out-1', { name: 'x', order: 'z' }],
  // A connection carries the same whether it is plugged or normalled; where a plug opens it, it is gone.
  ['cable', 'route', { normalled: 'half' }],
  ['unit', 'amp', { putBack: { driveDb: 3 }, presets: [{ name: 'x', settings: { driveDb: 9 } }] }],
  ['unit', 'amp', { name: 'x', order: 'z', notes: 'x', photos: [{ sha256: 'a'.repeat(64), about: 'x' }] }],
  ['loop', 'loop', { name: 'x', order: 'z', applied: true, former: [pingOf(3)] }],
  [
    'print',
    'p',
    {
      fingerprint: 'x',
      parts: { a: 'b' },
      seed: 5,
      startFrame: 3,
      frames: 3,
      clip: 'printed-clip',
      latencySamples: 3,
      verified: 'differs',
      notes: ['x'],
      printedAt: 'x',
      residualDb: -100,
      sourceName: 'x',
      faults: [{ kind: 'gap', from: 3, frames: 3, what: '', overDb: null }],
      proofs: [{ of: 'live', at: 'x', leftDb: null, signalDb: -20, prints: [], culprits: [] }],
      through: { tap: 'input', levelDb: 0, outPorts: ['x'], inPorts: ['y'], settings: {}, instead: {} }
    }
  ],
  ['link', 'both', { name: 'x', members: ['t'], levels: false, mutes: false, solos: false, order: 'z' }],
  ['channel', 'printed', { ready: true }]
]

describe('fields', () => {
  it.each(COUNTED)('%s %s: %j counts', (table, of, fields, named) => {
    const session = everything(),
      id = typeof of === 'string' ? of : of(session)
    const later = changed(session, table, id, fields)
    const [a, b] = [now(session), now(later)]
    expect(b.hash).not.toBe(a.hash)
    const names = changedParts(a.parts, b.parts).map(part => partName(later, part))
    expect(names.join('; ')).toMatch(named)
  })

  it.each(SAME)('%s %s: %j does not', (table, id, fields) => {
    const session = everything()
    expect(session[table]).toHaveProperty(id)
    expect(now(changed(session, table, id, fields))).toEqual(now(session))
  })

  it('are all in one of the two lists', () => {
    const session = everything()
    const listed = [...COUNTED, ...SAME].flatMap(([table, , fields]) => Object.keys(fields).map(f => `${table}.${f}`))
    const all = (Object.keys(TABLES) as TableName[]).flatMap(table =>
      Object.keys(rows(session, table)[0]!).map(f => `${table}.${f}`)
    )
    const left = new Set(all)
    for (const field of listed) left.delete(field)
    expect([...left].filter(f => !OWN.has(f.split('.')[1]!)).sort()).toEqual([...ELSEWHERE].sort())
  })

  it('the order in which rows were made does not count', () => {
    const session = everything()
    const turned = Object.fromEntries(
      Object.entries(session).map(([table, of]) => [
        table,
        Object.fromEntries(Object.entries(of as object).toReversed())
      ])
    ) as unknown as Session
    expect(now(turned).hash).toBe(now(session).hash)
  })

  it('what nothing passes through to is a silence of so many legs', () => {
    const session = everything()
    const of = (s: Session) => fingerprint(s, 'side', 'post', EXTRA)
    expect(Object.keys(of(session).parts)).toContain('channel side')
    const muted = changed(session, 'channel', 'side', { muted: true })
    expect(of(changed(muted, 'channel', 'side', { layout: ['M'] })).hash).not.toBe(of(muted).hash)
    expect(of(changed(muted, 'channel', 'side', { trimDb: -9 })).hash).toBe(of(muted).hash)
  })

  it('where a row changed, what only came or went behind it is not told', () => {
    const session = everything()
    const { parts } = now(session)
    const stale = (s: Session) =>
      staleParts({ ...s, print: { ...s.print, q: { ...s.print.p!, ...whole, parts } } }, 'q')
    const whole = { id: 'q', source: 'main', tap: 'post' as const, seed: 1, startFrame: 0, frames: FRAMES }
    expect(stale(session)).toEqual([])
    // A closed fader hides the slots before it: the fader is what changed.
    const shut = stale(changed(session, 'channel', 't', { muted: true }))
    expect(shut).toContain('fader t')
    expect(shut.filter(part => part.startsWith('slot '))).toEqual([])
    // Where nothing changed, what came or went is all there is to tell.
    const gone = { ...session, clip: { ...session.clip } } as Session
    delete gone.clip['t-clip']
    expect(stale(gone)).toEqual(['clip t-clip'])
    const { main: _, ...channel } = session.channel
    expect(stale({ ...session, channel } as Session)).toEqual(['source'])
  })

  it('a row that is gone is named by what it was', () => {
    const session = everything()
    expect(
      [
        'slot x',
        'clip x',
        'phrase x',
        'feed x',
        'print x',
        'unit x',
        'channel x',
        'fader x',
        'loop x',
        'port x',
        'odd',
        'odd x'
      ].map(part => partName(session, part))
    ).toEqual([
      'a slot that was removed',
      'a clip that was removed',
      'notes that were removed',
      'a feed that was removed',
      'a print that was removed',
      'a unit that was removed',
      'input section of x',
      'level of x',
      'loop x',
      'port x',
      'odd',
      'odd x'
    ])
  })
})

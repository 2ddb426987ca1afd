// The network of the demonstration: tracks in families, submixes, stems, returns, keys, two rigs.
import { Sketch } from '@nullet/core/testing/sketch'
import { familyColour } from '@nullet/core/session/families'
import type { Session } from '@nullet/core/session/session'
import { TEMPO, type Part } from './score'

const LEVELS: Record<string, number> = {
  'kora': -3.2,
  'kalimba': -5,
  'dulcimer-l': -6.4,
  'dulcimer-r': -6.4,
  'glass-harp': -8,
  'bass-clarinet': -6,
  'contrabass-flute': -7.5,
  'drum-low': -4,
  'drum-edge': -6.5,
  'drum-wide-l': -9,
  'drum-wide-r': -9,
  'room-l': -12,
  'room-r': -12,
  'shakers': -14,
  'drone': -8,
  'narrator': -1,
  'lake': -16,
  'lake-quad': -20,
  'wind': -18,
  'wind-quad': -22,
  'kora-reference': -8
}
const PANS: Record<string, number> = {
  'dulcimer-l': -0.7,
  'dulcimer-r': 0.7,
  'drum-wide-l': -0.8,
  'drum-wide-r': 0.8,
  'room-l': -1,
  'room-r': 1,
  'kalimba': 0.15,
  'kora': -0.2,
  'bass-clarinet': -0.3,
  'contrabass-flute': 0.3,
  'shakers': 0.4
}

export interface DemoMedium {
  id: string
  sha256: string
  frames: number
  peakDb: number | null
  loudnessLufs: number | null
}

export function demoSession(parts: Part[], measured: (part: Part) => Omit<DemoMedium, 'id'>): Session {
  const k = new Sketch('Night over Lake Orrin', { sampleRate: 48000, seed: 20417, tempo: [[0, TEMPO]] })
  for (const p of parts) {
    const { frames, ...m } = measured(p)
    k.medium(p.id, p.legs.length, frames, { name: p.name, file: `audio/${p.name}.wav`, ...m })
    const choir = p.id.startsWith('choir')
    k.track(p.id, p.id, {
      name: p.name,
      family: p.family,
      colour: familyColour(p.family),
      pan: choir ? -0.8 + 0.32 * (Number(p.id.slice(-1)) - 1) : (PANS[p.id] ?? 0),
      levelDb: choir ? -6 : (LEVELS[p.id] ?? 0),
      muted: p.id === 'kora-reference',
      ...(p.legs.length === 4 ? { layout: ['L', 'R', 'Ls', 'Rs'] } : {})
    })
  }
  // Bells that nobody played: a pattern of sixteenths, an octave and a fifth up.
  k.track('bells', undefined, {
    name: 'Star bells',
    layout: ['M'],
    family: 'Plucked',
    colour: familyColour('Plucked'),
    levelDb: -17,
    pan: 0.5
  })
  const bars = Math.max(1, Math.floor(((parts[0]!.legs[0]!.length / 48000) * TEMPO) / 60 / 4))
  const STEPS = [
    [0, 81, 96],
    [0.75, 88, 60],
    [1.5, 93, 78],
    [2.25, 84, 52],
    [3, 88, 88],
    [3.5, 96, 44]
  ] as const
  k.add('phrase', {
    id: 'bells-pattern',
    channel: 'bells',
    name: 'Stars',
    as: 'steps',
    voice: 'pluck',
    repeats: bars,
    notes: STEPS.map(([beat, key, velocity]) => [beat, 0.25, key, velocity])
  })
  const bus = (id: string, name: string, role: string, family: string, fields: object = {}) =>
    k.bus(id, { name, role, family, colour: familyColour(family), ...fields })
  bus('plucked', 'Plucked strings', 'submix', 'Plucked', { levelDb: -1.5 })
  bus('winds', 'Winds', 'submix', 'Winds', { levelDb: -3 })
  bus('choir', 'Choir', 'submix', 'Choir', { levelDb: -4 })
  const families = ['Plucked', 'Winds', 'Percussion', 'Choir', 'Narration', 'Ambience']
  for (const f of families) bus(`stem-${f.toLowerCase()}`, `Stem ${f}`, 'stem', f)
  bus('main', 'Main', 'main', '', { levelDb: -0.5, colour: 8 })
  bus('dome-hall', 'Dome hall', 'return', '', { levelDb: -6, colour: 7 })
  bus('short-room', 'Short room', 'return', '', { levelDb: -8, colour: 7 })
  bus('lantern', 'Lantern delay', 'return', '', { levelDb: -9, colour: 7 })

  const into: Record<string, string[]> = {
    plucked: ['kora', 'kalimba', 'dulcimer-l', 'dulcimer-r', 'bells'],
    winds: ['bass-clarinet', 'contrabass-flute', 'glass-harp'],
    choir: [1, 2, 3, 4, 5, 6].map(i => `choir-${i}`),
    'stem-plucked': ['plucked', 'kora-reference'],
    'stem-winds': ['winds'],
    'stem-choir': ['choir'],
    'stem-narration': ['narrator'],
    'stem-percussion': [
      'drum-low',
      'drum-edge',
      'drum-wide-l',
      'drum-wide-r',
      'room-l',
      'room-r',
      'shakers',
      'short-room'
    ],
    'stem-ambience': ['drone', 'lake', 'lake-quad', 'wind', 'wind-quad'],
    main: [...families.map(f => `stem-${f.toLowerCase()}`), 'dome-hall', 'lantern']
  }
  for (const [to, from] of Object.entries(into)) for (const id of from) k.main(id, to)

  k.slot('dome-hall', 'reverb', { decayS: 3.6, preDelayMs: 35, size: 100, highDecay: 40 })
  k.slot('short-room', 'reverb', { decayS: 0.6, preDelayMs: 4, size: 35, lowDecay: 80 })
  k.slot('lantern', 'delay', { timeMs: 625, feedback: 42, cross: 100, highCutHz: 4200 })
  const halls = Object.fromEntries(
    (
      [
        ['choir', -9],
        ['winds', -12],
        ['glass-harp', -10],
        ['narrator', -22],
        ['kora', -16]
      ] as const
    ).map(([from, level]) => [from, k.send(from, 'dome-hall', level)])
  )
  for (const id of ['drum-low', 'drum-edge', 'shakers']) k.send(id, 'short-room', -12)
  k.send('kora', 'lantern', -14, 'pre')
  k.send('lantern', 'dome-hall', -12)

  k.slot('plucked', 'equaliser', { kind1: 'low shelf', hz1: 120, db1: -2, kind2: 'bell', hz2: 2600, db2: 2.5, q2: 0.9 })
  const ducks = ['plucked', 'winds', 'choir'].map(b =>
    k.slot(b, 'compressor', { thresholdDb: -30, ratio: 3, attackMs: 25, releaseMs: 420, kneeDb: 10 })
  )
  ducks.forEach(slot => k.key('narrator', slot, 'pre'))
  k.key(
    'heartbeat',
    k.slot(
      'drone',
      'spectral',
      { bands: '12', lowHz: 40, highHz: 1200, attackMs: 4, releaseMs: 120, shift: 19, gainDb: 38 },
      { mix: 0.97 }
    ),
    'pre'
  )
  // Movement: the winds swell, the wind crosses the dome, the choir's hall opens at the end of every third phrase.
  const at = (seconds: number) => Math.round(seconds * 48000)
  k.move({ channel: 'winds' }, 'levelDb', [
    [0, -9],
    [at(6), 0],
    [at(14), 0],
    [at(20), -5],
    [at(30), 1.5],
    [at(38), -4]
  ])
  k.move({ channel: 'wind' }, 'pan', [
    [0, -0.8],
    [at(10), 0.8],
    [at(22), -0.6],
    [at(40), 0.7]
  ])
  k.move({ feed: halls.choir }, 'levelDb', [
    [at(3), -12],
    [at(8), 0],
    [at(9), -8],
    [at(17), 2],
    [at(18), -8],
    [at(28), 4]
  ])
  k.slot('narrator', 'equaliser', { lowCutSlope: '12', lowCutHz: 90, kind1: 'bell', hz1: 3200, db1: 3, q1: 0.8 })

  loftDesk(k)
  domeRoom(k)
  Object.assign(k.session.session.session, { rig: 'loft', heardChannel: 'main' })
  return k.session
}

/** Eight outs and a spare digital pair; an amplifier, a compressor, a wire and a small summing box. */
function loftDesk(k: Sketch): void {
  k.rig('loft', { name: 'Loft desk' })
  k.interface('loft-io', 'loft', 8, 8, {
    name: 'Loft desk',
    reportedLatencySamples: 128,
    trueLatencySamples: 141.37,
    noiseDbfs: -112,
    dcCornerHz: 1.6,
    referenceDbu: 18
  })
  for (let i = 1; i <= 8; i++) {
    k.session.port[`loft-io-out-${i}`].name = `Loft out ${i}`
    k.session.port[`loft-io-in-${i}`].name = `Loft in ${i}`
  }
  for (const [i, side] of [
    [9, 'L'],
    [10, 'R']
  ] as const) {
    k.add('port', {
      id: `loft-io-out-${i}`,
      interface: 'loft-io',
      name: `Loft digital ${side}`,
      direction: 'out',
      signal: 'digital'
    })
  }
  k.unit('tube', 'loft', 'tube-amplifier', {}, { name: 'Tube amplifier' })
  k.unit('valve', 'loft', 'valve-compressor', {}, { name: 'Valve compressor' })
  k.unit('plain-wire', 'loft', 'wire', {}, { name: 'Wire' })
  k.unit('box', 'loft', 'summing-8', { unevenDb: 0.3 }, { name: 'Small summing box' })
  k.unit('performer', 'loft', 'player', { levelDbu: 0 }, { name: 'Kalimba player', plays: 'kalimba' })
  k.cable('loft', 'performer:0', 'loft-io-in-6')
  k.cable('loft', 'loft-io-out-5', 'tube:0')
  k.cable('loft', 'tube:0', 'loft-io-in-5')
  k.cable('loft', 'loft-io-out-3', 'valve:0')
  k.cable('loft', 'loft-io-out-4', 'valve:1')
  k.cable('loft', 'valve:0', 'loft-io-in-3')
  k.cable('loft', 'valve:1', 'loft-io-in-4')
  k.cable('loft', 'loft-io-out-7', 'plain-wire:0', { normalled: 'half' })
  k.cable('loft', 'loft-io-out-8', 'plain-wire:1', { normalled: 'half' })
  k.cable('loft', 'plain-wire:0', 'loft-io-in-7', { normalled: 'half' })
  k.cable('loft', 'plain-wire:1', 'loft-io-in-8', { normalled: 'half' })
}

/** Sixteen outs and listening pairs, a summing unit of sixteen inputs. */
function domeRoom(k: Sketch): void {
  k.rig('dome', { name: 'Dome control room' })
  k.interface('dome-io', 'dome', 20, 4, {
    name: 'Dome interface',
    reportedLatencySamples: 96,
    trueLatencySamples: 102.81,
    noiseDbfs: -116,
    dcCornerHz: 0.9,
    referenceDbu: 20
  })
  for (let i = 1; i <= 20; i++)
    k.session.port[`dome-io-out-${i}`].name = i <= 16 ? `Dome out ${i}` : `Dome listening ${i - 16}`
  for (let i = 1; i <= 4; i++) k.session.port[`dome-io-in-${i}`].name = `Dome in ${i}`
  k.unit('summing', 'dome', 'summing-16', {}, { name: 'Summing unit' })
  for (let i = 0; i < 16; i++) k.cable('dome', `dome-io-out-${i + 1}`, `summing:${i}`)
  k.cable('dome', 'summing:0', 'dome-io-in-1')
  k.cable('dome', 'summing:1', 'dome-io-in-2')
}

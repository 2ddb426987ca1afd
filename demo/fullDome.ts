// The same show for the full dome: 128 tracks over the same audio, submixes of submixes, stems, two mains. For those
// who want to see the network at the size they work at.
import { familyColour } from '@nullet/core/session/families'
import { Sketch } from '@nullet/core/testing/sketch'
import { rows, type Session } from '@nullet/core/session/session'

/** Names in series, the media they take turns with, family, and the bus they feed. */
const SECTIONS: readonly {
  name: string
  count: number
  media: readonly string[]
  family: string
  to: string
  levelDb: number
}[] = [
  { name: 'Soprano', count: 8, media: ['choir-1', 'choir-2'], family: 'Choir', to: 'sopranos', levelDb: -9 },
  { name: 'Alto', count: 8, media: ['choir-3', 'choir-4'], family: 'Choir', to: 'altos', levelDb: -9 },
  { name: 'Tenor', count: 8, media: ['choir-5'], family: 'Choir', to: 'tenors', levelDb: -10 },
  { name: 'Low voice', count: 8, media: ['choir-6'], family: 'Choir', to: 'low-voices', levelDb: -9 },
  {
    name: 'Frame drum',
    count: 16,
    media: ['drum-low', 'drum-edge', 'drum-wide-l', 'drum-wide-r'],
    family: 'Percussion',
    to: 'drum-circle',
    levelDb: -14
  },
  { name: 'Dome room', count: 8, media: ['room-l', 'room-r'], family: 'Percussion', to: 'rooms', levelDb: -18 },
  { name: 'Shaker', count: 6, media: ['shakers'], family: 'Percussion', to: 'percussion', levelDb: -20 },
  { name: 'Kora', count: 6, media: ['kora'], family: 'Plucked', to: 'koras', levelDb: -12 },
  { name: 'Kalimba', count: 6, media: ['kalimba'], family: 'Plucked', to: 'plucked', levelDb: -13 },
  { name: 'Dulcimer', count: 8, media: ['dulcimer-l', 'dulcimer-r'], family: 'Plucked', to: 'plucked', levelDb: -14 },
  { name: 'Bass clarinet', count: 6, media: ['bass-clarinet'], family: 'Winds', to: 'winds', levelDb: -13 },
  { name: 'Contrabass flute', count: 6, media: ['contrabass-flute'], family: 'Winds', to: 'winds', levelDb: -13 },
  { name: 'Glass harp', count: 6, media: ['glass-harp'], family: 'Winds', to: 'winds', levelDb: -15 },
  { name: 'Narrator', count: 4, media: ['narrator'], family: 'Narration', to: 'stem-narration', levelDb: -6 },
  { name: 'Lake bed', count: 10, media: ['lake', 'lake-quad'], family: 'Ambience', to: 'water', levelDb: -26 },
  { name: 'Wind bed', count: 8, media: ['wind', 'wind-quad'], family: 'Ambience', to: 'stem-ambience', levelDb: -27 },
  { name: 'Drone carrier', count: 4, media: ['drone'], family: 'Ambience', to: 'stem-ambience', levelDb: -18 },
  { name: 'Heartbeat', count: 2, media: ['heartbeat'], family: 'Percussion', to: '', levelDb: 0 }
]

const SUBMIXES: readonly [id: string, name: string, family: string, to: string][] = [
  ['sopranos', 'Sopranos', 'Choir', 'choir'],
  ['altos', 'Altos', 'Choir', 'choir'],
  ['tenors', 'Tenors', 'Choir', 'choir'],
  ['low-voices', 'Low voices', 'Choir', 'choir'],
  ['choir', 'Choir', 'Choir', 'stem-choir'],
  ['drum-circle', 'Drum circle', 'Percussion', 'percussion'],
  ['rooms', 'Rooms', 'Percussion', 'percussion'],
  ['percussion', 'Percussion', 'Percussion', 'stem-percussion'],
  ['koras', 'Koras', 'Plucked', 'plucked'],
  ['plucked', 'Plucked', 'Plucked', 'stem-plucked'],
  ['winds', 'Winds', 'Winds', 'stem-winds'],
  ['water', 'Water', 'Ambience', 'stem-ambience']
]

export function fullDome(base: Session): Session {
  const k = new Sketch('Lake Orrin, full dome', { sampleRate: 48000, seed: 20418 })
  const used = new Set(SECTIONS.flatMap(s => s.media))
  for (const m of rows(base, 'medium').filter(m => used.has(m.id))) k.add('medium', { ...m })
  for (const s of SECTIONS) {
    for (let i = 0; i < s.count; i++) {
      const medium = s.media[i % s.media.length]
      const spread = s.count < 2 ? 0 : (i / (s.count - 1)) * 1.6 - 0.8
      k.track(`${s.name.toLowerCase().replaceAll(' ', '-')}-${i + 1}`, medium, {
        name: `${s.name} ${i + 1}`,
        family: s.family,
        colour: familyColour(s.family),
        levelDb: s.levelDb,
        pan: Math.round(spread * 100) / 100,
        ...(k.session.medium[medium].legs === 4 ? { layout: ['L', 'R', 'Ls', 'Rs'] } : {})
      })
    }
  }
  for (const [id, name, family] of SUBMIXES) k.bus(id, { name, family, colour: familyColour(family) })
  const families = ['Plucked', 'Winds', 'Percussion', 'Choir', 'Narration', 'Ambience']
  for (const f of families)
    k.bus(`stem-${f.toLowerCase()}`, { name: `Stem ${f}`, role: 'stem', family: f, colour: familyColour(f) })
  k.bus('main', { name: 'Main', role: 'main', colour: 8 })
  k.bus('night-mix', { name: 'Night mix', role: 'main', colour: 8, levelDb: -4 })
  for (const [id, name] of [
    ['dome-hall', 'Dome hall'],
    ['short-room', 'Short room']
  ])
    k.bus(id, { name, role: 'return', colour: 7, levelDb: -6 })
  for (const s of SECTIONS)
    for (let i = 1; s.to && i <= s.count; i++) k.main(`${s.name.toLowerCase().replaceAll(' ', '-')}-${i}`, s.to)
  for (const [id, , , to] of SUBMIXES) k.main(id, to)
  for (const f of families) {
    k.main(`stem-${f.toLowerCase()}`, 'main')
    k.main(`stem-${f.toLowerCase()}`, 'night-mix', { levelDb: f === 'Ambience' ? 3 : f === 'Percussion' ? -6 : 0 })
  }
  for (const id of ['dome-hall', 'short-room']) {
    k.main(id, 'main')
    k.main(id, 'night-mix')
  }
  k.slot('dome-hall', 'reverb', { decayS: 3.6, preDelayMs: 35, size: 100, highDecay: 40 })
  k.slot('short-room', 'reverb', { decayS: 0.6, preDelayMs: 4, size: 35, lowDecay: 80 })
  for (const [from, db] of [
    ['choir', -9],
    ['winds', -12],
    ['koras', -14]
  ] as const)
    k.send(from, 'dome-hall', db)
  for (const from of ['drum-circle', 'percussion']) k.send(from, 'short-room', -12)
  for (const b of ['plucked', 'winds', 'choir'])
    k.key(
      'narrator-1',
      k.slot(b, 'compressor', { thresholdDb: -30, ratio: 3, attackMs: 25, releaseMs: 420, kneeDb: 10 }),
      'pre'
    )
  for (const i of [1, 2, 3, 4])
    k.key(
      'heartbeat-1',
      k.slot(`drone-carrier-${i}`, 'compressor', {
        thresholdDb: -36,
        ratio: 8,
        attackMs: 4,
        releaseMs: 260,
        makeupDb: 3
      }),
      'pre'
    )
  k.key(
    'heartbeat-2',
    k.slot('water', 'compressor', { thresholdDb: -40, ratio: 4, attackMs: 4, releaseMs: 300 }),
    'pre'
  )
  k.slot('night-mix', 'compressor', { thresholdDb: -18, ratio: 2.5, kneeDb: 8 })
  k.session.session.session.heardChannel = 'main'
  return k.session
}

// “Night over Lake Orrin”: who plays what, when. Returns the audio of all 28 tracks.
import { bed, blow, drum, pluck, RATE, random, sing, strike, type Buffer } from './voices'

export const TEMPO = 72
const BEAT = Math.round((RATE * 60) / TEMPO)

/** Roots of the bars: D dorian, eight bars and again. */
const ROOTS = [50, 50, 48, 45, 50, 53, 48, 45]
const SCALE = [0, 2, 3, 5, 7, 9, 10]
const degree = (root: number, step: number) => root + SCALE[((step % 7) + 7) % 7] + 12 * Math.floor(step / 7)

export interface Part {
  id: string
  name: string
  family: string
  legs: Buffer[]
}

export function score(seconds: number): Part[] {
  const frames = Math.round(seconds * RATE)
  const beats = Math.floor(frames / BEAT)
  const empty = (): Buffer => new Float32Array(frames)
  const parts: Part[] = []
  const part = (id: string, name: string, family: string, legs: Buffer[]) => {
    parts.push({ id, name, family, legs })
    return legs
  }
  const eachBeat = (play: (beat: number, at: number, root: number) => void) => {
    for (let b = 0; b < beats; b++) play(b, b * BEAT, ROOTS[Math.floor(b / 4) % 8])
  }

  const chance = random(7)
  const [kora] = part('kora', 'Kora DI', 'Plucked', [empty()])
  eachBeat((b, at, root) => {
    for (let k = 0; k < 4; k++) {
      if (chance() < -0.35) continue
      pluck(
        kora,
        at + Math.round((k * BEAT) / 4),
        degree(root + 12, [0, 4, 2, 7, 5, 9, 4, 6][(b * 4 + k) % 8]),
        1.6,
        0.16,
        0.5,
        b * 8 + k
      )
    }
  })
  const [kalimba] = part('kalimba', 'Bass kalimba DI', 'Plucked', [empty()])
  eachBeat((b, at, root) => {
    if (b % 2 === 0)
      strike(kalimba, at, root - 12, 0.22, [
        [1, 1, 1.8],
        [5.4, 0.15, 0.2],
        [2.01, 0.12, 0.9]
      ])
  })
  const dulcimer = [empty(), empty()]
  part('dulcimer-l', 'Dulcimer L', 'Plucked', [dulcimer[0]])
  part('dulcimer-r', 'Dulcimer R', 'Plucked', [dulcimer[1]])
  eachBeat((b, at, root) => {
    if (b % 8 < 4) return
    for (let k = 0; k < 2; k++) {
      const note = degree(root + 24, (b * 3 + k * 2) % 9),
        when = at + (k * BEAT) / 2
      pluck(dulcimer[0], when, note, 2.2, 0.1, 0.85, b + k)
      pluck(dulcimer[1], when + 21, note + 0.04, 2.2, 0.09, 0.8, b + k + 99)
    }
  })

  const [clarinet] = part('bass-clarinet', 'Bass clarinet', 'Winds', [empty()])
  const [flute] = part('contrabass-flute', 'Contrabass flute', 'Winds', [empty()])
  eachBeat((b, at, root) => {
    if (b % 4 === 0)
      blow(
        clarinet,
        at,
        root - 12,
        (BEAT * 3.6) / RATE,
        0.16,
        { harmonics: [1, 0.04, 0.5, 0.03, 0.28, 0.02, 0.12], breath: 0.03, vibrato: 0.001, attack: 0.12 },
        b
      )
    if (b % 4 === 2)
      blow(
        flute,
        at,
        degree(root, 4),
        (BEAT * 2.4) / RATE,
        0.15,
        { harmonics: [1, 0.35, 0.12, 0.04], breath: 0.35, vibrato: 0.004, attack: 0.2 },
        b + 500
      )
  })
  const glass = part('glass-harp', 'Glass harp', 'Winds', [empty(), empty()])
  eachBeat((b, at, root) => {
    if (b % 4 !== 3) return
    strike(glass[b % 8 < 4 ? 0 : 1], at, degree(root + 24, 2), 0.08, [
      [1, 1, 4],
      [2.32, 0.3, 2.5],
      [4.25, 0.12, 1.4]
    ])
    strike(glass[b % 8 < 4 ? 1 : 0], at + 140, degree(root + 24, 6), 0.05, [
      [1, 1, 4],
      [2.32, 0.3, 2.5]
    ])
  })

  // One drummer, six microphones: the same strokes with their own colour, distance and room.
  const strokes: { at: number; hz: number; loud: number; snap: number }[] = []
  eachBeat((b, at) => {
    strokes.push({ at, hz: b % 4 === 0 ? 72 : 88, loud: b % 4 === 0 ? 0.5 : 0.3, snap: 0.3 })
    if (b % 2)
      strokes.push(
        { at: at + BEAT / 2, hz: 175, loud: 0.16, snap: 0.9 },
        { at: at + Math.round(BEAT * 0.75), hz: 210, loud: 0.1, snap: 1 }
      )
  })
  const microphones = [
    ['drum-low', 'Frame drum low', 1, 0.2, 0],
    ['drum-edge', 'Frame drum edge', 0.6, 1.6, 20],
    ['drum-wide-l', 'Frame drum wide L', 0.45, 0.8, 96],
    ['drum-wide-r', 'Frame drum wide R', 0.42, 0.8, 110],
    ['room-l', 'Room mic L', 0.22, 0.4, 620],
    ['room-r', 'Room mic R', 0.22, 0.4, 655]
  ] as const
  microphones.forEach(([id, name, gain, snap, late], m) => {
    const [leg] = part(id, name, 'Percussion', [empty()])
    strokes.forEach((s, i) =>
      drum(leg, Math.round(s.at) + late, s.hz * (1 + m * 0.002), s.loud * gain, s.snap * snap, i * 7 + m)
    )
    if (id.startsWith('room')) {
      // A room is many late copies.
      const echo = random(m)
      for (let k = 1; k < 24; k++) {
        const d = Math.round(500 + k * 310 + echo() * 150),
          g = 0.3 * Math.exp(-k / 7)
        for (let n = frames - 1; n >= d; n--) leg[n] += g * 0.3 * leg[n - d]
      }
    }
  })
  const [shakers] = part('shakers', 'Shakers', 'Percussion', [empty()])
  const rattle = random(77)
  for (let b = 0; b < beats * 4; b++) {
    const start = Math.round((b * BEAT) / 4),
      accent = b % 4 === 2 ? 0.2 : 0.09
    let high = 0,
      last = 0
    for (let n = 0; n < 4200 && start + n < frames; n++) {
      const x = rattle()
      high = 0.6 * (high + x - last)
      last = x
      shakers[start + n] += accent * high * Math.exp(-n / 900) * Math.min(1, n / 300)
    }
  }
  const [heart] = part('heartbeat', 'Heartbeat trigger', 'Percussion', [empty()])
  eachBeat((b, at) => {
    drum(heart, at, 52, 0.7, 0, b)
    drum(heart, at + Math.round(BEAT * 0.3), 47, 0.45, 0, b + 900)
  })

  const drone = part('drone', 'Drone carrier', 'Ambience', [empty(), empty()])
  drone.forEach((leg, side) =>
    [38, 45, 50, 57.03].forEach((note, i) =>
      blow(
        leg,
        0,
        note + side * 0.05,
        seconds,
        0.045,
        { harmonics: [1, 0.7, 0.5, 0.36, 0.25, 0.18, 0.12, 0.08], breath: 0.02, vibrato: 0.0005, attack: 3 },
        40 + i * 2 + side
      )
    )
  )

  const vowels: [number, number][] = [
    [700, 1150],
    [450, 800],
    [620, 1000],
    [400, 1900],
    [550, 900],
    [700, 1150]
  ]
  for (let v = 0; v < 6; v++) {
    const [leg] = part(`choir-${v + 1}`, `Choir ${v + 1}`, 'Choir', [empty()])
    for (let bar = 0; bar * 4 < beats; bar++) {
      sing(
        leg,
        bar * 4 * BEAT + v * 300,
        degree(ROOTS[bar % 8], [0, 2, 4, 7, 9, 11][v]),
        (BEAT * 4) / RATE,
        0.1,
        vowels[(v + bar) % 6],
        v * 100 + bar
      )
    }
  }

  // The narrator speaks no language: syllables of changing vowels in phrases of four seconds.
  const [narrator] = part('narrator', 'Narrator', 'Narration', [empty()])
  const speech = random(11)
  for (let phrase = 6; phrase + 4 < seconds; phrase += 9) {
    for (let t = phrase; t < phrase + 4.2;) {
      const length = 0.16 + 0.08 * Math.abs(speech())
      sing(
        narrator,
        Math.round(t * RATE),
        46 + 3 * speech(),
        length + 0.5,
        0.24,
        vowels[Math.floor(Math.abs(speech()) * 6)],
        Math.round(t * 1000)
      )
      t += length + (speech() > 0.6 ? 0.3 : 0.03)
    }
  }

  part(
    'lake',
    'Lake',
    'Ambience',
    [1, 2].map(s => {
      const b = empty()
      bed(b, 0.5, 420, 500, 0.5, 7, s)
      return b
    })
  )
  part(
    'lake-quad',
    'Lake quad',
    'Ambience',
    [3, 4, 5, 6].map(s => {
      const b = empty()
      bed(b, 0.35, 300, 400, 0.6, 9, s)
      return b
    })
  )
  part(
    'wind',
    'Wind',
    'Ambience',
    [7, 8].map(s => {
      const b = empty()
      bed(b, 0.25, 700, 200, 0.9, 11, s)
      return b
    })
  )
  part(
    'wind-quad',
    'Wind quad',
    'Ambience',
    [9, 10, 11, 12].map(s => {
      const b = empty()
      bed(b, 0.2, 520, 160, 0.8, 13, s)
      return b
    })
  )

  // The amplifier of the tracking day, kept as a reference: bent, rolled off.
  const [reference] = part('kora-reference', 'Kora amp reference', 'Plucked', [empty()])
  let low = 0,
    lower = 0
  for (let n = 16; n < frames; n++) {
    const x = kora[n - 16] * 7
    low += (x / Math.sqrt(1 + x * x) - low) * 0.42
    lower += (low - lower) * 0.5
    reference[n] = lower * 0.3
  }
  for (const p of parts) toPeak(p.legs, PEAKS[p.id] ?? PEAKS[p.family])
  return parts
}

/** Peaks in dBFS at which the takes were recorded; the DIs are low, as DIs are. */
const PEAKS: Record<string, number> = {
  'kora': -16,
  'kalimba': -15,
  'Plucked': -12,
  'Winds': -13,
  'glass-harp': -17,
  'Percussion': -9,
  'room-l': -15,
  'room-r': -15,
  'shakers': -14,
  'Choir': -16,
  'Narration': -9,
  'drone': -18,
  'Ambience': -22
}

function toPeak(legs: Buffer[], db: number): void {
  const top = Math.max(...legs.map(leg => leg.reduce((m, x) => Math.max(m, Math.abs(x)), 0)))
  const gain = 10 ** (db / 20) / (top || 1)
  for (const leg of legs) for (let n = 0; n < leg.length; n++) leg[n] *= gain
}

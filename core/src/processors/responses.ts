// Impulse responses made by code: noise whose bands die away at their own pace, behind a few early echoes. What a
// room's decay is made of (M. Schroeder, "Natural sounding artificial reverberation", 1962), by formula and from a
// seed.
import { dictionary } from '../foundation/dictionary'
import { PI, exp, log, sin } from '../foundation/elementary'
import { hash32 } from '../foundation/seed'
import { settings, type Session } from '../session/session'

interface Shape {
  label: string
  /** Seconds to −60 dB below 250 Hz, between, and above 3.5 kHz. */
  decay: readonly [number, number, number]
  /** Seconds in which the noise grows to its full density. */
  grows: number
  /** Early echoes: milliseconds and gain, mirrored between the legs. */
  echoes: readonly (readonly [number, number])[]
  /** Hz at which the response swings, for a spring's chirp; 0 for none. */
  chirp?: number
}

export const RESPONSES: Record<string, Shape> = dictionary({
  'dome': {
    label: 'Dome, 4 s',
    decay: [4.6, 4, 1.9],
    grows: 0.08,
    echoes: [
      [23, 0.5],
      [41, 0.42],
      [67, 0.35],
      [94, 0.3]
    ]
  },
  'chapel': {
    label: 'Stone chapel, 2.6 s',
    decay: [2.4, 2.6, 1.5],
    grows: 0.03,
    echoes: [
      [11, 0.6],
      [19, 0.5],
      [33, 0.35]
    ]
  },
  'studio': {
    label: 'Studio room, 0.5 s',
    decay: [0.55, 0.5, 0.4],
    grows: 0.006,
    echoes: [
      [4, 0.7],
      [7, 0.6],
      [13, 0.4],
      [21, 0.3]
    ]
  },
  'sheet': { label: 'Steel sheet, 1.8 s', decay: [2.2, 1.8, 1.2], grows: 0.002, echoes: [] },
  'coil': {
    label: 'Coil, 1.4 s',
    decay: [1.6, 1.4, 0.5],
    grows: 0.001,
    echoes: [
      [33, 0.8],
      [66, 0.55],
      [99, 0.4]
    ],
    chirp: 2600
  }
})

const LN_1000 = log(1000)

/** Two legs × frames at a rate, until the longest band is 70 dB down. */
export function makeResponse(id: string, sampleRate: number): Float32Array[] {
  const { decay, grows, echoes, chirp = 0 } = RESPONSES[id]
  const frames = Math.ceil(((Math.max(...decay) * 70) / 60) * sampleRate)
  const low = 1 - exp((-2 * PI * 250) / sampleRate),
    high = 1 - exp((-2 * PI * 3500) / sampleRate)
  const fall = decay.map(t => exp(-LN_1000 / (t * sampleRate)))
  const rise = exp(-1 / (grows * sampleRate))
  return [0, 1].map(leg => {
    let state = hash32(`${id} ${leg}`) || 1
    const out = new Float32Array(frames)
    const gains = [1, 1, 1]
    let dense = 0,
      slow = 0,
      fast = 0
    for (let n = 0; n < frames; n++) {
      state ^= state << 13
      state ^= state >>> 17
      state ^= state << 5
      const noise = (state >>> 0) / 2147483648 - 1
      slow += low * (noise - slow)
      fast += high * (noise - fast)
      dense = 1 - (1 - dense) * rise
      // A band-pass passes little of white noise: low and middle are lifted.
      let v = dense * (2.2 * slow * gains[0] + 1.5 * (fast - slow) * gains[1] + (noise - fast) * gains[2])
      if (chirp) {
        const t = n / sampleRate
        v *= 0.6 + 0.4 * sin(2 * PI * chirp * t * exp((-6 * (t % 0.033)) / 0.033))
      }
      out[n] = v
      for (let b = 0; b < 3; b++) gains[b] *= fall[b]
    }
    for (const [i, [ms, gain]] of echoes.entries()) {
      const at = Math.round(((ms + (i % 2 === leg ? 0 : 1.7)) * sampleRate) / 1000)
      out[at] += gain * 3
    }
    return out
  })
}

/** Frames of a response by its id; 0 when it is not there. */
export function responseFrames(session: Session, id: string): number {
  if (id in RESPONSES) return Math.ceil(((Math.max(...RESPONSES[id].decay) * 70) / 60) * settings(session).sampleRate)
  return session.medium[id]?.frames ?? 0
}

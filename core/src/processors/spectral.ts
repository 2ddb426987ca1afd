// Spectral keying: a sustained carrier shaped by the rhythm and spectrum of a key. Log-spaced pairs of band-passes of
// fourth order; the level in an analysis band sets the gain of its synthesis band, which may lie elsewhere.
import { PI, cos, gainOf, pow, sin } from '../foundation/elementary'
import type { Params } from '../session/rows'
import { coefficient } from './compressor'
import type { Processor } from './processor'

/** Most legs that a kernel's sums have room for. */
const MOST_LEGS = 8

export interface Band {
  analysisHz: number
  synthesisHz: number
  q: number
}

/** Centres of the bands, and the Q at which neighbours meet 3 dB down. */
export function bandsOf(p: Params): Band[] {
  const count = Number(p.bands),
    low = Math.min(p.lowHz as number, p.highHz as number),
    high = Math.max(p.lowHz as number, p.highHz as number)
  const ratio = pow(high / low, 1 / count)
  // Two equal sections are 3 dB down where one of them is 1.5 dB down: 1 + Q²x² = √2 at x = √ratio − 1/√ratio.
  const x = Math.sqrt(ratio) - 1 / Math.sqrt(ratio)
  const q = Math.sqrt(Math.SQRT2 - 1) / Math.max(x, 1e-6)
  const middle = Math.sqrt(low * high)
  return Array.from({ length: count }, (_, i) => {
    const analysisHz = low * pow(ratio, i + 0.5)
    return {
      analysisHz,
      synthesisHz: middle * pow(analysisHz / middle, (p.stretch as number) / 100) * pow(2, (p.shift as number) / 12),
      q
    }
  })
}

/** b0, a1, a2 of a band-pass with 0 dB at its centre (Bristow-Johnson's cookbook); silence where it does not fit. */
function bandPass(hz: number, q: number, rate: number): [number, number, number] {
  if (hz > 0.47 * rate || hz < 5) return [0, 0, 0]
  const w = (2 * PI * hz) / rate,
    alpha = sin(w) / (2 * q)
  return [alpha / (1 + alpha), (-2 * cos(w)) / (1 + alpha), (1 - alpha) / (1 + alpha)]
}

export const spectralKeying: Processor = {
  id: 'spectral',
  label: 'Spectral keying',
  version: 2,
  keyed: true,
  linear: false,
  parameters: [
    { name: 'bands', label: 'Bands', choices: ['8', '12', '16', '20', '24', '32', '40'], initial: '20' },
    { name: 'lowHz', label: 'From', unit: 'Hz', min: 40, max: 2000, law: 'ratio', initial: 90 },
    { name: 'highHz', label: 'To', unit: 'Hz', min: 1000, max: 16000, law: 'ratio', initial: 8000 },
    { name: 'attackMs', label: 'Attack', unit: 'ms', min: 0.1, max: 200, law: 'ratio', initial: 3 },
    { name: 'releaseMs', label: 'Release', unit: 'ms', min: 1, max: 2000, law: 'ratio', initial: 60 },
    { name: 'shift', label: 'Shift, semitones', min: -24, max: 24, initial: 0 },
    { name: 'stretch', label: 'Stretch', unit: '%', min: 25, max: 200, initial: 100 },
    { name: 'gainDb', label: 'Gain', unit: 'dB', min: -24, max: 48, initial: 18 }
  ],
  build(signal, { builder, key, params: p, sampleRate, keySignal }) {
    const carriers = { ...signal, legs: signal.legs.slice(0, MOST_LEGS), layout: signal.layout.slice(0, MOST_LEGS) }
    const steer = builder.mix(
      `${key}/steer`,
      keySignal.legs.map(leg => ({ leg, gain: 1 / keySignal.legs.length }))
    )
    const bands = bandsOf(p)
    const values = bands.map(b => {
      const synthesis = bandPass(b.synthesisHz, b.q, sampleRate)
      return [...bandPass(b.analysisHz, b.q, sampleRate), ...synthesis, synthesis[0] === 0 ? 0 : 1]
    })
    const pairs = values.length / 2
    const params = [
      pairs,
      coefficient(p.attackMs as number, sampleRate),
      coefficient(p.releaseMs as number, sampleRate)
    ]
    for (let i = 0; i < pairs; i++) for (let k = 0; k < 7; k++) params.push(values[2 * i][k], values[2 * i + 1][k])
    return builder.gain(`${key}/gain`, builder.spectral(key, carriers, steer, params), gainOf(p.gainDb as number))
  }
}

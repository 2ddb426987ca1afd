// Limiter: true peaks at sixteen times the rate, look-ahead, one gain for all legs. The lowest gain that is asked for
// within the look-ahead, let go slowly and averaged over it, is there in time and has no corners.
import { PI, cos, gainOf, sin } from '../foundation/elementary'
import { coefficient } from './compressor'
import { type Derived, type Processor, derived, standingsOf } from './processor'

const PHASES = 16,
  TAPS = 32
/** Samples by which the peak detector is late. */
export const DETECTOR_DELAY = 16
/**
 * Room in dB for what interpolation may still miss next to half the rate, and for what a gain that moves within so many
 * milliseconds makes of peaks: measured with full-band noise at 44.1 to 96 kHz.
 */
const marginDb = (lookAheadMs: number) => 0.08 + 0.06 / lookAheadMs
const LONGEST_MS = 10

/**
 * Windowed sinc (Blackman over 32 samples), phase after phase, oldest sample first; each phase with unit gain at 0 Hz.
 */
function detectorTaps(): number[] {
  return Array.from({ length: PHASES }, (_, phase) => {
    const taps = Array.from({ length: TAPS }, (_, k) => {
      const x = k - (TAPS / 2 - 1) - phase / PHASES
      const w = 2 * PI * (x / TAPS + 0.5)
      return (x === 0 ? 1 : sin(PI * x) / (PI * x)) * (0.42 - 0.5 * cos(w) + 0.08 * cos(2 * w))
    })
    const sum = taps.reduce((a, b) => a + b, 0)
    return taps.map(t => t / sum)
  }).flat()
}

const DRIVE = derived('driveDb', gainOf)
const RELEASE = derived('releaseMs', coefficient)
const CEILING: Derived = {
  from: ['ceilingDb'],
  value: p => gainOf((p.ceilingDb as number) - marginDb(p.lookAheadMs as number))
}

let taps: number[] | undefined
let most = 0

export const limiter: Processor = {
  standsIn: (setting, _, sampleRate) => [
    ...standingsOf('mix', [DRIVE], setting, sampleRate),
    ...standingsOf('peaks', [CEILING], setting, sampleRate, 1),
    ...standingsOf('ceiling', [CEILING], setting, sampleRate),
    ...standingsOf('ceiling', [RELEASE], setting, sampleRate, 2)
  ],
  id: 'limiter',
  label: 'Limiter',
  version: 3,
  keyed: false,
  linear: false,
  followsLevel: [{ name: 'ceilingDb', by: 1 }],
  parameters: [
    { name: 'driveDb', label: 'Drive', unit: 'dB', min: 0, max: 36, initial: 0 },
    { name: 'ceilingDb', label: 'Ceiling, true peak', unit: 'dB', min: -30, max: 0, initial: -1 },
    {
      name: 'lookAheadMs',
      label: 'Look-ahead',
      unit: 'ms',
      min: 0.5,
      max: LONGEST_MS,
      law: 'ratio',
      shapes: true,
      initial: 2
    },
    { name: 'releaseMs', label: 'Release', unit: 'ms', min: 5, max: 2000, law: 'ratio', initial: 80 }
  ],
  build(signal, { builder, key, params: p, sampleRate }) {
    if (!taps) {
      taps = detectorTaps()
      for (let phase = 0; phase < PHASES; phase++)
        most = Math.max(
          most,
          taps.slice(phase * TAPS, (phase + 1) * TAPS).reduce((sum, t) => sum + Math.abs(t), 0)
        )
    }
    const driven = builder.gain(`${key}/drive`, signal, DRIVE.value(p, sampleRate))
    const window = Math.max(2, Math.round(((p.lookAheadMs as number) * sampleRate) / 1000))
    const curve = builder.ceilingCurve(key, driven, {
      most,
      taps,
      ceiling: CEILING.value(p, sampleRate),
      window,
      release: RELEASE.value(p, sampleRate),
      longest: Math.ceil((LONGEST_MS * sampleRate) / 1000)
    })
    return builder.multiply(key, builder.delay(`${key}/ahead`, driven, DETECTOR_DELAY + window - 1), curve)
  }
}

// Saturation: y = (s(drive·x + bias) − s(bias)) / drive with s(v) = v / √(1 + v²), at twelve times the rate. Quiet
// signals pass at unity (without bias), loud ones bend; bias bends one side first.
import { PI, gainOf, sin } from '../foundation/elementary'
import { kaiser } from '../foundation/kaiser'
import { type Derived, type Processor, derived, standingsOf, valuesOf } from './processor'

const TIMES = 12
/** Half width of the pass band as a share of the old rate: what harmonics fold from beyond is 90 dB down. */
const CUT = 0.43,
  BETA = 9
const HALF = 16 * TIMES

/** 384 taps at twelve times the rate about a centre; unit gain at 0 Hz. */
function taps(centre: number): number[] {
  const h = Array.from({ length: 2 * HALF }, (_, n) => {
    const x = n - centre,
      f = CUT / TIMES
    return (x === 0 ? 2 * f : sin(2 * PI * f * x) / (PI * x)) * kaiser(x / HALF, BETA)
  })
  const sum = h.reduce((a, b) => a + b, 0)
  return h.map(v => v / sum)
}

/** The mean of neighbours takes ω²/8 off the top of the band: the second difference gives it back. */
const restored = (h: number[]): number[] => h.map((v, n) => v - ((h[n - 1] ?? 0) - 2 * v + (h[n + 1] ?? 0)) / 8)
let made: number[] | undefined

/** As the kernel wants them: drive, bias, level. */
const BEND: readonly Derived[] = [derived('driveDb', gainOf), derived('bias'), derived('outputDb', gainOf)]

export const saturation: Processor = {
  standsIn: (setting, _, sampleRate) => standingsOf('saturate', BEND, setting, sampleRate),
  id: 'saturation',
  label: 'Saturation',
  version: 2,
  keyed: false,
  linear: false,
  followsLevel: [{ name: 'driveDb', by: -1 }],
  parameters: [
    {
      name: 'driveDb',
      label: 'Drive',
      unit: 'dB',
      min: -24,
      max: 48,
      initial: 9,
      note: 'Up to 36 dB, what folds back from a tone of 5 kHz stays 90 dB under it; at 48 dB, 74 dB.'
    },
    { name: 'bias', label: 'Bias', min: 0, max: 1, initial: 0 },
    { name: 'outputDb', label: 'Output', unit: 'dB', min: -24, max: 24, initial: 0 }
  ],
  build: (signal, { builder, key, params, sampleRate }) =>
    builder.saturate(
      key,
      signal,
      valuesOf(BEND, params, sampleRate),
      (made ??= [...taps(HALF), ...restored(taps(HALF - 0.5))])
    )
}

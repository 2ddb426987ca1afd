// A guitar amplifier in a room of its own, as a microphone hears it.
import { gainOf } from '../../foundation/elementary'
import { band, cut } from '../../processors/biquad'
import { oversamplingTaps } from '../fractional'
import type { UnitModel } from '../unit'

export const tubeAmplifier: UnitModel = {
  model: 'tube-amplifier',
  label: 'Tube amplifier',
  version: 2,
  passive: false,
  linear: false,
  figures: { nominalDbu: -16, distortion: [9.86, 24.6], bandHz: [64, 6260], crosstalkDb: null, delayMs: 1.1 },
  noiseDbu: -66,
  clipDbu: 24,
  about:
    'Two valve stages, a tone stack, a closed cabinet with one twelve-inch speaker and a microphone in front of it.',
  inputs: ['Instrument in'],
  instrument: [0],
  outputs: ['Microphone'],
  settings: [
    { name: 'driveDb', label: 'Drive', unit: 'dB', min: 0, max: 42, initial: 14 },
    { name: 'bassDb', label: 'Bass', unit: 'dB', min: -12, max: 12, initial: 2 },
    { name: 'middleDb', label: 'Middle', unit: 'dB', min: -12, max: 12, initial: 0 },
    { name: 'trebleDb', label: 'Treble', unit: 'dB', min: -12, max: 12, initial: 1 },
    { name: 'distanceM', label: 'Microphone distance', min: 0.02, max: 3, law: 'ratio', initial: 0.15 },
    { name: 'microphoneDb', label: 'Microphone gain', unit: 'dB', min: -30, max: 30, initial: 0 }
  ],
  build([input], { builder, key, settings: s, sampleRate }) {
    const taps = oversamplingTaps()
    const pre = builder.filter(`${key}/pre`, input, [
      ...cut('low', 45, 12, sampleRate),
      band('high shelf', 1800, 4, 0.7, sampleRate)
    ])
    // The input stage bends at +6 dBu less the drive; the second is biased and bends one side first.
    const first = builder.bend(`${key}/v1`, pre, gainOf((s.driveDb as number) - 6), 0.12, 1, taps)
    const tone = builder.filter(`${key}/tone`, first, [
      band('low shelf', 120, s.bassDb as number, 0.7, sampleRate),
      band('bell', 600, s.middleDb as number, 0.6, sampleRate),
      band('high shelf', 2600, s.trebleDb as number, 0.7, sampleRate)
    ])
    const second = builder.bend(`${key}/v2`, tone, gainOf((s.driveDb as number) / 2 - 6), 0.25, 1, taps)
    const cabinet = builder.filter(`${key}/cabinet`, second, [
      ...cut('low', 72, 12, sampleRate),
      band('bell', 115, 3.5, 1.2, sampleRate),
      band('bell', 430, -3, 0.9, sampleRate),
      band('bell', 2500, 5, 1.1, sampleRate),
      ...cut('high', 5200, 24, sampleRate)
    ])
    const air = builder.shift(`${key}/air`, cabinet, Math.round(((s.distanceM as number) / 343) * sampleRate), 4096)
    return [builder.gain(`${key}/microphone`, air, gainOf((s.microphoneDb as number) + 4))]
  }
}

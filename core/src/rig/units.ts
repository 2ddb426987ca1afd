// The stand-ins for real units, by model.
import { dictionaryBy } from '../foundation/dictionary'
import { gainOf } from '../foundation/elementary'
import { band, cut } from '../processors/biquad'
import { coefficient } from '../processors/compressor'
import { complete } from '../processors/processor'
import type { Params } from '../session/rows'
import { oversamplingTaps } from './fractional'
import type { UnitModel } from './unit'

const tubeAmplifier: UnitModel = {
  model: 'tube-amplifier',
  label: 'Tube amplifier',
  version: 2,
  passive: false,
  linear: false,
  noiseDbu: -66,
  clipDbu: 24,
  about:
    'Two valve stages, a tone stack, a closed cabinet with one twelve-inch speaker and a microphone in front of it.',
  inputs: ['Instrument in'],
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

const valveCompressor: UnitModel = {
  model: 'valve-compressor',
  label: 'Valve compressor',
  version: 2,
  passive: false,
  linear: false,
  noiseDbu: -78,
  clipDbu: 24,
  about: 'Two linked sides, slow and round, with a transformer that warms loud signals.',
  inputs: ['In left', 'In right'],
  outputs: ['Out left', 'Out right'],
  settings: [
    { name: 'thresholdDbu', label: 'Threshold', unit: 'dB', min: -30, max: 20, initial: 0 },
    { name: 'ratio', label: 'Ratio', unit: ':1', min: 1.5, max: 10, law: 'ratio', initial: 3 },
    { name: 'attackMs', label: 'Attack', unit: 'ms', min: 1, max: 100, law: 'ratio', initial: 20 },
    { name: 'releaseMs', label: 'Release', unit: 'ms', min: 50, max: 3000, law: 'ratio', initial: 350 },
    { name: 'makeupDb', label: 'Output', unit: 'dB', min: -12, max: 20, initial: 2 }
  ],
  build(inputs, { builder, key, settings: s, sampleRate }) {
    const both = { legs: inputs.flatMap(i => i.legs), layout: ['L', 'R'], latency: inputs[0].latency }
    const curve = builder.gainCurve(key, both, [
      s.thresholdDbu as number,
      1 - 1 / (s.ratio as number),
      10,
      coefficient(s.attackMs as number, sampleRate),
      coefficient(s.releaseMs as number, sampleRate),
      s.makeupDb as number,
      0
    ])
    return inputs.map((input, i) =>
      builder.bend(
        `${key}/warm${i}`,
        builder.multiply(`${key}/${i}`, input, curve),
        gainOf(-24),
        0.05,
        1,
        oversamplingTaps()
      )
    )
  }
}

const wire: UnitModel = {
  model: 'wire',
  label: 'Wire',
  version: 1,
  passive: true,
  apart: true,
  linear: true,
  noiseDbu: -Infinity,
  clipDbu: Infinity,
  about: 'Two wires: what goes in comes out. For tests of everything around it.',
  inputs: ['In 1', 'In 2'],
  outputs: ['Out 1', 'Out 2'],
  settings: [],
  build: inputs => inputs
}

const summing = (inputs: number, noiseDbu: number): UnitModel => ({
  model: `summing-${inputs}`,
  label: `Summing mixer ${inputs} → 2`,
  version: 2,
  passive: false,
  linear: true,
  noiseDbu,
  clipDbu: 24,
  about: `${inputs} inputs in pairs onto a stereo output, through one output stage.`,
  inputs: Array.from({ length: inputs }, (_, i) => `In ${i + 1}`),
  outputs: ['Main left', 'Main right'],
  settings: [{ name: 'outputDb', label: 'Output', unit: 'dB', min: -24, max: 12, initial: 0 }],
  build: (ins, { builder, key, settings }) =>
    [0, 1].map(side => ({
      layout: ['M'],
      latency: Math.max(...ins.map(i => i.latency)),
      legs: [
        builder.mix(
          `${key}/${side}`,
          ins.filter((_, i) => i % 2 === side).map(i => ({ leg: i.legs[0], gain: gainOf(settings.outputDb as number) }))
        )
      ]
    }))
})

export const UNITS: Record<string, UnitModel> = dictionaryBy(
  [tubeAmplifier, valveCompressor, wire, summing(8, -82), summing(16, -80)],
  u => u.model
)

export const unitSettings = (model: UnitModel, settings: Params) => complete(model.settings, settings)

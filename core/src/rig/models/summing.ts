// Mixers that sum many into two.
import { gainOf } from '../../foundation/elementary'
import type { UnitModel } from '../unit'

export const summing = (inputs: number, noiseDbu: number): UnitModel => ({
  model: `summing-${inputs}`,
  label: `Summing mixer ${inputs} → 2`,
  version: 2,
  passive: false,
  linear: true,
  figures: { nominalDbu: 4, distortion: [0, 0], bandHz: [10, 23000], crosstalkDb: 110, delayMs: 0 },
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

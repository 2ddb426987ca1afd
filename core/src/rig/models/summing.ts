// Mixers that sum many into two, and hand the sum to the monitors through a level of their own.
import { gainOf } from '../../foundation/elementary'
import { hash32 } from '../../foundation/seed'
import type { UnitModel } from '../unit'

/**
 * What channels of one console are apart, as they left the works: between −1 and 1, the same for the same unit and
 * input, and without a sum over all of them, so that none is right by itself.
 */
export const unevenness = (key: string, input: number): number => hash32(`channel ${input} of ${key}`) / 2 ** 31 - 1

export const summing = (inputs: number, noiseDbu: number): UnitModel => ({
  model: `summing-${inputs}`,
  label: `Summing mixer ${inputs} → 2`,
  version: 3,
  passive: false,
  linear: true,
  figures: { nominalDbu: 4, distortion: [0, 0], bandHz: [10, 23000], crosstalkDb: 110, delayMs: 0 },
  noiseDbu,
  clipDbu: 24,
  about: `${inputs} inputs in pairs onto a stereo output for recording, and a monitor output with a level of its own.`,
  inputs: Array.from({ length: inputs }, (_, i) => `In ${i + 1}`),
  outputs: ['Main left', 'Main right', 'Monitor left', 'Monitor right'],
  monitors: [2, 3],
  settings: [
    { name: 'outputDb', label: 'Output', unit: 'dB', min: -24, max: 12, initial: 0 },
    { name: 'monitorDb', label: 'Monitor', unit: 'dB', min: -60, max: 12, initial: 0 },
    { name: 'unevenDb', label: 'Channels apart by', unit: 'dB', min: 0, max: 3, initial: 0 }
  ],
  build(ins, { builder, key, settings }) {
    const { outputDb, monitorDb, unevenDb } = settings as Record<string, number>
    const latency = Math.max(...ins.map(i => i.latency))
    const sums = [0, 1].map(side =>
      builder.mix(
        `${key}/${side}`,
        ins.flatMap(({ legs }, i) =>
          i % 2 === side ? [{ leg: legs[0], gain: gainOf(outputDb + unevenDb * unevenness(key, i)) }] : []
        )
      )
    )
    const main = sums.map(leg => ({ layout: ['M'], latency, legs: [leg] }))
    // The monitors are fed behind the output, so that its level moves both.
    return [...main, ...main.map((sum, side) => builder.gain(`${key}/monitor/${side}`, sum, gainOf(monitorDb)))]
  }
})

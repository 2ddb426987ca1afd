// A tape machine of two heads: what is recorded is read a little later, saturated, with the bump and the loss of its
// speed. Its monitor switch turns to what goes in instead.
import { gainOf } from '../../foundation/elementary'
import { ringSize } from '../../plan/builder'
import { band, cut } from '../../processors/biquad'
import { oversamplingTaps } from '../fractional'
import type { UnitModel } from '../unit'

/** From the gap that records to the gap that reads. */
const HEADS_APART_CM = 4.2
/** By the speed of the tape: cm a second, where the head lifts the bottom, and where the top is 3 dB down. */
const SPEEDS: Record<string, { cmPerS: number; bumpHz: number; topHz: number }> = {
  '19 cm/s': { cmPerS: 19.05, bumpHz: 38, topHz: 14500 },
  '38 cm/s': { cmPerS: 38.1, bumpHz: 62, topHz: 19500 },
  '76 cm/s': { cmPerS: 76.2, bumpHz: 105, topHz: 22000 }
}
const SLOWEST_CM_PER_S = 19.05
/** Emphasis before the tape and off again behind it: the top saturates first. */
const EMPHASIS_DB = 8

export const tapeDeck: UnitModel = {
  model: 'tape-deck',
  label: 'Tape deck',
  version: 1,
  passive: false,
  linear: false,
  noiseDbu: -62,
  clipDbu: 26,
  about: 'Two tracks, two heads: what comes back was on tape, and is late by the way between the heads.',
  inputs: ['In left', 'In right'],
  outputs: ['Out left', 'Out right'],
  figures: { nominalDbu: 4, distortion: [0.56, 4.3], bandHz: [23.6, 17600], crosstalkDb: 50, delayMs: 110.5 },
  settings: [
    { name: 'monitor', label: 'Monitor', choices: ['tape', 'input'], initial: 'tape' },
    { name: 'speed', label: 'Speed', choices: Object.keys(SPEEDS), initial: '38 cm/s' },
    { name: 'recordDb', label: 'Record level', unit: 'dB', min: -12, max: 12, initial: 0 },
    { name: 'playDb', label: 'Play level', unit: 'dB', min: -12, max: 12, initial: 0 }
  ],
  build(inputs, { builder, key, settings: s, sampleRate }) {
    if (s.monitor === 'input') return inputs
    const { cmPerS, bumpHz, topHz } = SPEEDS[s.speed as string]
    const topped = Math.min(topHz, 0.45 * sampleRate)
    const played = inputs.map((input, side) => {
      const recorded = builder.filter(
        `${key}/record${side}`,
        builder.gain(`${key}/in${side}`, input, gainOf(s.recordDb as number)),
        [band('high shelf', 3200, EMPHASIS_DB, 0.6, sampleRate)]
      )
      const tape = builder.bend(`${key}/tape${side}`, recorded, gainOf(-16), 0, 1, oversamplingTaps())
      const read = builder.filter(`${key}/read${side}`, tape, [
        band('high shelf', 3200, -EMPHASIS_DB, 0.6, sampleRate),
        band('bell', bumpHz, 1.8, 1.1, sampleRate),
        ...cut('low', bumpHz / 2.6, 12, sampleRate),
        ...cut('high', topped, 12, sampleRate)
      ])
      const late = Math.round((HEADS_APART_CM / cmPerS) * sampleRate)
      return builder.shift(
        `${key}/heads${side}`,
        read,
        late,
        ringSize(Math.ceil((HEADS_APART_CM / SLOWEST_CM_PER_S) * sampleRate))
      )
    })
    // The tracks lie beside each other on the tape.
    return played.map((here, side) =>
      builder.gain(
        `${key}/play${side}`,
        builder.blend(`${key}/beside${side}`, here, 1, played[1 - side], gainOf(-50)),
        gainOf(s.playDb as number)
      )
    )
  }
}

// A tape machine of two heads: what is recorded is read a little later, saturated, with the bump and the loss of its
// speed. Its monitor switch turns to what goes in instead.
import { gainOf } from '../../foundation/elementary'
import { hash32 } from '../../foundation/seed'
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

/** Speed that wanders slowly, by the capstan, and by a third of that fast, by the tape: Hz. */
const WOW_HZ = 0.6,
  FLUTTER_HZ = 8.3,
  FLUTTER_SHARE = 1 / 3
const MOST_SWING_S = 0.005

/**
 * Where speed is off by p, at most, along a sine of f Hz, time is off by p / (2πf). Where each sine begins is another
 * in every pass, and the same for both tracks: they lie on one tape.
 */
function wander(percent: number, rate: number, seed: number, key: string) {
  const sine = (hz: number, share: number) => ({
    swing: ((percent / 100) * share * rate) / (2 * Math.PI * hz),
    turns: hz / rate,
    from: hash32(`${hz} Hz of pass ${seed} on ${key}`) / 2 ** 32
  })
  return [sine(WOW_HZ, 1), sine(FLUTTER_HZ, FLUTTER_SHARE)]
}

export const tapeDeck: UnitModel = {
  model: 'tape-deck',
  label: 'Tape deck',
  version: 2,
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
    { name: 'playDb', label: 'Play level', unit: 'dB', min: -12, max: 12, initial: 0 },
    { name: 'wowPercent', label: 'Wow and flutter', unit: '%', min: 0, max: 1, initial: 0 }
  ],
  build(inputs, { builder, key, settings: s, sampleRate, seed }) {
    if (s.monitor === 'input') return inputs
    const { cmPerS, bumpHz, topHz } = SPEEDS[s.speed as string]
    const wanders = (s.wowPercent as number) > 0
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
      const ring = ringSize(Math.ceil((HEADS_APART_CM / SLOWEST_CM_PER_S) * sampleRate) + MOST_SWING_S * sampleRate)
      return wanders
        ? builder.wow(`${key}/wow${side}`, read, late, ring, wander(s.wowPercent as number, sampleRate, seed, key))
        : builder.shift(`${key}/heads${side}`, read, late, ring)
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

// An equaliser of coils and capacitors: what it seems to lift it takes away less of, so everything is lower behind it.
import { gainOf } from '../../foundation/elementary'
import { band } from '../../processors/biquad'
import type { UnitModel } from '../unit'

/** What a signal loses in it with all controls at 0. */
const LOSS_DB = 16

export const passiveEqualiser: UnitModel = {
  model: 'passive-equaliser',
  label: 'Passive equaliser',
  version: 1,
  passive: true,
  apart: true,
  linear: true,
  noiseDbu: -112,
  clipDbu: 26,
  about: `Two sides of coils and capacitors, no power: ${LOSS_DB} dB lower behind it, however it is set.`,
  inputs: ['In left', 'In right'],
  outputs: ['Out left', 'Out right'],
  figures: { nominalDbu: 4, distortion: [0, 0], bandHz: [10, 23000], crosstalkDb: 120, delayMs: 0 },
  settings: [
    { name: 'lowHz', label: 'Low, at', choices: ['30 Hz', '60 Hz', '100 Hz'], initial: '60 Hz' },
    { name: 'lowDb', label: 'Low', unit: 'dB', min: -12, max: 12, initial: 0 },
    { name: 'highHz', label: 'High, at', choices: ['4 kHz', '8 kHz', '12 kHz'], initial: '8 kHz' },
    { name: 'highDb', label: 'High', unit: 'dB', min: 0, max: 12, initial: 0 },
    { name: 'airDb', label: 'Above 14 kHz', unit: 'dB', min: -12, max: 0, initial: 0 }
  ],
  build: (inputs, { builder, key, settings: s, sampleRate }) =>
    inputs.map((input, side) =>
      builder.gain(
        `${key}/loss${side}`,
        builder.filter(`${key}/coils${side}`, input, [
          band('low shelf', parseFloat(s.lowHz as string), s.lowDb as number, 0.6, sampleRate),
          band('bell', 1000 * parseFloat(s.highHz as string), s.highDb as number, 0.8, sampleRate),
          band('high shelf', 14000, s.airDb as number, 0.7, sampleRate)
        ]),
        gainOf(-LOSS_DB)
      )
    )
}

// Between a line out and an instrument in: lower by what its knob says, and of the impedance that the input expects.
import { gainOf } from '../../foundation/elementary'
import type { UnitModel } from '../unit'

export const reampAttenuator: UnitModel = {
  model: 'reamp-attenuator',
  label: 'Re-amp attenuator',
  version: 1,
  passive: true,
  linear: true,
  noiseDbu: -118,
  clipDbu: 24,
  about: 'From a line out to an instrument in: a transformer and a knob, no power.',
  inputs: ['Line in'],
  outputs: ['Instrument out'],
  figures: { nominalDbu: 4, distortion: [0, 0], bandHz: [10, 23000], crosstalkDb: null, delayMs: 0 },
  settings: [{ name: 'lossDb', label: 'Lower by', unit: 'dB', min: 0, max: 40, initial: 0 }],
  build: ([input], { builder, key, settings: s }) => [builder.gain(`${key}/loss`, input, gainOf(-(s.lossDb as number)))]
}

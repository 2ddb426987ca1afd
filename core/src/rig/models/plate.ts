// A steel plate with one driver and two pickups.
import { gainOf } from '../../foundation/elementary'
import { cut } from '../../processors/biquad'
import { reverberation } from './reverberation'
import { sidesOf, type UnitModel } from '../unit'

export const plate: UnitModel = {
  model: 'plate',
  label: 'Plate reverb',
  version: 1,
  passive: false,
  linear: true,
  noiseDbu: -74,
  clipDbu: 22,
  about: 'A steel plate, driven at one point and heard at two: mono in, stereo out, only the reverb comes back.',
  inputs: ['Driver'],
  outputs: ['Pickup left', 'Pickup right'],
  figures: { nominalDbu: 4, distortion: [0, 0], bandHz: null, crosstalkDb: null, delayMs: 0 },
  settings: [
    { name: 'decayS', label: 'Decay, by its damper', unit: 's', min: 0.5, max: 5.5, law: 'ratio', initial: 2.4 },
    { name: 'lowCutHz', label: 'Low cut', unit: 'Hz', min: 20, max: 500, law: 'ratio', initial: 60 }
  ],
  build([input], { builder, key, settings: s, sampleRate }) {
    const driven = builder.filter(`${key}/driver`, input, cut('low', s.lowCutHz as number, 12, sampleRate))
    const both = { ...driven, layout: ['L', 'R'], legs: [driven.legs[0], driven.legs[0]] }
    const steel = { decayS: s.decayS, lowDecay: 130, highDecay: 40, lowHz: 300, highHz: 6000, size: 55, diffusion: 85 }
    const wet = reverberation(both, `${key}/steel`, steel, { builder, sampleRate })
    return sidesOf(builder.gain(`${key}/pickups`, wet, gainOf(-10)))
  }
}

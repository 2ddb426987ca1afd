// A reverb of two springs in a tank: narrow, with the flutter of what runs back and forth in them.
import { gainOf } from '../../foundation/elementary'
import { cut } from '../../processors/biquad'
import { reverberation } from './reverberation'
import type { UnitModel } from '../unit'

/** There and back in the shorter spring. */
const FLUTTER_MS = 33

export const spring: UnitModel = {
  model: 'spring',
  label: 'Spring reverb',
  version: 1,
  passive: false,
  linear: true,
  noiseDbu: -70,
  clipDbu: 20,
  about: 'Two springs in a tank; only the reverb comes back, so it stands on a return.',
  inputs: ['In'],
  outputs: ['Pickup'],
  figures: { nominalDbu: 4, distortion: [0, 0], bandHz: null, crosstalkDb: null, delayMs: 33.1 },
  settings: [
    { name: 'decayS', label: 'Decay', unit: 's', min: 0.6, max: 4, law: 'ratio', initial: 2.1 },
    { name: 'flutter', label: 'Flutter', unit: '%', min: 0, max: 70, initial: 45 },
    { name: 'lowCutHz', label: 'Low cut', unit: 'Hz', min: 60, max: 600, law: 'ratio', initial: 140 }
  ],
  build([input], { builder, key, settings: s, sampleRate }) {
    const driven = builder.filter(`${key}/drive`, input, [
      ...cut('low', s.lowCutHz as number, 12, sampleRate),
      ...cut('high', 4300, 24, sampleRate)
    ])
    const back = Math.round((FLUTTER_MS / 1000) * sampleRate)
    const fluttering = builder.echo(`${key}/flutter`, driven, [back, (s.flutter as number) / 100, 0, 1, 0], back)
    const tank = { decayS: s.decayS, highDecay: 60, highHz: 3000, size: 30, diffusion: 75 }
    const wet = reverberation(fluttering, `${key}/tank`, tank, { builder, sampleRate })
    return [builder.gain(`${key}/pickup`, wet, gainOf(-16))]
  }
}

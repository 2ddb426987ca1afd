// A stereo compressor that is slow and warm.
import { gainOf } from '../../foundation/elementary'
import { coefficient } from '../../processors/compressor'
import { oversamplingTaps } from '../fractional'
import { pairOf, type UnitModel } from '../unit'

export const valveCompressor: UnitModel = {
  model: 'valve-compressor',
  label: 'Valve compressor',
  version: 2,
  passive: false,
  linear: false,
  figures: { nominalDbu: 4, distortion: [0.38, 0.6], bandHz: [10, 18200], crosstalkDb: 110, delayMs: 0.31 },
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
    const curve = builder.gainCurve(key, pairOf(inputs), [
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

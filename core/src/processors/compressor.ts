// Feed-forward compressor with soft knee and smooth branching: see kernels/compressor.ts for the source.
import type { Params } from '../session/rows'
import { exp } from '../foundation/elementary'
import { type Derived, type Processor, derived, standingsOf, valuesOf } from './processor'

/** One-pole coefficient that covers 63 % of a step in the given time. */
export const coefficient = (ms: number, sampleRate: number) => (ms <= 0 ? 0 : exp(-1000 / (ms * sampleRate)))

/** Output level in dB of a steady input level in dB, make-up included. Giannoulis et al. 2012, equation 4. */
export function staticCurve(inputDb: number, params: Params): number {
  const threshold = params.thresholdDb as number,
    knee = params.kneeDb as number
  const slope = 1 - 1 / (params.ratio as number)
  const over = inputDb - threshold
  const reduction =
    over >= knee / 2 ? slope * over : over > -knee / 2 ? (slope * (over + knee / 2) ** 2) / (2 * knee) : 0
  return inputDb - reduction + (params.makeupDb as number)
}

/** As the kernel wants them. */
const CURVE: readonly Derived[] = [
  derived('thresholdDb'),
  derived('ratio', ratio => 1 - 1 / ratio),
  derived('kneeDb'),
  derived('attackMs', coefficient),
  derived('releaseMs', coefficient),
  derived('makeupDb'),
  {
    from: ['averageMs'],
    value: (p, sampleRate) => (p.detector === 'rms' ? coefficient(p.averageMs as number, sampleRate) : 0)
  }
]

export const compressor: Processor = {
  standsIn: (setting, _, sampleRate) => standingsOf('compressor', CURVE, setting, sampleRate),
  id: 'compressor',
  label: 'Compressor',
  version: 1,
  keyed: true,
  linear: false,
  followsLevel: [{ name: 'thresholdDb', by: 1 }],
  parameters: [
    { name: 'thresholdDb', label: 'Threshold', unit: 'dB', min: -80, max: 0, initial: -20 },
    { name: 'ratio', label: 'Ratio', unit: ':1', min: 1, max: 100, law: 'ratio', initial: 3 },
    { name: 'kneeDb', label: 'Knee', unit: 'dB', min: 0, max: 40, initial: 6 },
    { name: 'attackMs', label: 'Attack', unit: 'ms', min: 0, max: 500, law: 'ratio', initial: 10 },
    { name: 'releaseMs', label: 'Release', unit: 'ms', min: 1, max: 5000, law: 'ratio', initial: 120 },
    { name: 'makeupDb', label: 'Make-up', unit: 'dB', min: -24, max: 36, initial: 0 },
    { name: 'detector', label: 'Detector', choices: ['peak', 'rms'], initial: 'peak' },
    {
      name: 'averageMs',
      label: 'RMS time',
      unit: 'ms',
      min: 1,
      max: 500,
      law: 'ratio',
      counts: p => p.detector === 'rms',
      initial: 20
    },
    { name: 'lookAheadMs', label: 'Look-ahead', unit: 'ms', min: 0, max: 20, shapes: true, initial: 0 }
  ],
  build(signal, { builder, key, params, sampleRate, keySignal }) {
    const ahead = Math.round(((params.lookAheadMs as number) * sampleRate) / 1000)
    const curve = builder.gainCurve(key, keySignal, valuesOf(CURVE, params, sampleRate))
    return builder.multiply(key, builder.delay(`${key}/ahead`, signal, ahead), curve)
  }
}

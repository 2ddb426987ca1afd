// Ducker: lower by a set depth while the key is over its threshold. Meant for a key from elsewhere.
import type { Processor } from './processor'
import { switching } from './switching'

export const ducker: Processor = {
  ...switching('depthDb', 'over'),
  id: 'ducker',
  label: 'Ducker',
  version: 1,
  keyed: true,
  linear: false,
  followsLevel: [{ name: 'thresholdDb', by: 1 }],
  parameters: [
    { name: 'thresholdDb', label: 'Threshold', unit: 'dB', min: -90, max: 0, initial: -40 },
    { name: 'depthDb', label: 'Depth', unit: 'dB', min: 0, max: 60, initial: 9 },
    { name: 'hysteresisDb', label: 'Hysteresis', unit: 'dB', min: 0, max: 24, initial: 4 },
    { name: 'attackMs', label: 'Attack', unit: 'ms', min: 0, max: 500, law: 'linear', initial: 20 },
    { name: 'holdMs', label: 'Hold', unit: 'ms', min: 1, max: 4000, law: 'ratio', initial: 250 },
    { name: 'releaseMs', label: 'Release', unit: 'ms', min: 1, max: 6000, law: 'ratio', initial: 600 },
    { name: 'lookAheadMs', label: 'Look-ahead', unit: 'ms', min: 0, max: 50, shapes: true, initial: 0 }
  ]
}

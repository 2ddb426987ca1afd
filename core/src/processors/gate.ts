// Gate and expander: closed by a range while the level is under the threshold, with hysteresis and hold.
import type { Processor } from './processor'
import { switching } from './switching'

export const gate: Processor = {
  ...switching('rangeDb', 'under'),
  id: 'gate',
  label: 'Gate',
  version: 1,
  keyed: true,
  linear: false,
  followsLevel: [{ name: 'thresholdDb', by: 1 }],
  parameters: [
    { name: 'thresholdDb', label: 'Threshold', unit: 'dB', min: -90, max: 0, initial: -40 },
    { name: 'hysteresisDb', label: 'Hysteresis', unit: 'dB', min: 0, max: 24, initial: 6 },
    { name: 'rangeDb', label: 'Range', unit: 'dB', min: 0, max: 100, initial: 60 },
    { name: 'attackMs', label: 'Attack', unit: 'ms', min: 0, max: 100, law: 'linear', initial: 1 },
    { name: 'holdMs', label: 'Hold', unit: 'ms', min: 1, max: 2000, law: 'ratio', initial: 40 },
    { name: 'releaseMs', label: 'Release', unit: 'ms', min: 1, max: 4000, law: 'ratio', initial: 120 },
    { name: 'lookAheadMs', label: 'Look-ahead', unit: 'ms', min: 0, max: 20, shapes: true, initial: 0 }
  ]
}

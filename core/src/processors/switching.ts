// What gate and ducker share: a gain between two values, switched where the key's level passes a threshold.
import { gainOf } from '../foundation/elementary'
import { coefficient } from './compressor'
import { type Derived, type Processor, derived, standingsOf, valuesOf } from './processor'

/**
 * Parameters of the kernel.
 * @param depth setting in dB by which it lowers; while the key is over the threshold, or while it is not
 */
const derivedOf = (depth: string, lowers: 'over' | 'under'): readonly Derived[] => [
  derived('thresholdDb', gainOf),
  { from: ['thresholdDb', 'hysteresisDb'], value: p => gainOf((p.thresholdDb as number) - (p.hysteresisDb as number)) },
  derived(depth, db => (lowers === 'over' ? -db : 0)),
  derived(depth, db => (lowers === 'over' ? 0 : -db)),
  derived('attackMs', coefficient),
  derived('releaseMs', coefficient),
  derived('holdMs', (ms, sampleRate) => Math.round((ms * sampleRate) / 1000))
]

/** The signal, late by its look-ahead, and lower by its depth on one side of the threshold. */
export function switching(depth: string, lowers: 'over' | 'under'): Pick<Processor, 'build' | 'standsIn'> {
  const all = derivedOf(depth, lowers)
  return {
    standsIn: (setting, _, sampleRate) => standingsOf('gate', all, setting, sampleRate),
    build(signal, { builder, key, params, sampleRate, keySignal }) {
      const curve = builder.switchCurve(key, keySignal, valuesOf(all, params, sampleRate))
      const ahead = Math.round(((params.lookAheadMs as number) * sampleRate) / 1000)
      return builder.multiply(key, builder.delay(`${key}/ahead`, signal, ahead), curve)
    }
  }
}

// What gate and ducker share: a gain between two values, switched where the key's level passes a threshold.
import type { Signal } from '../plan/operations'
import { gainOf } from '../foundation/elementary'
import { coefficient } from './compressor'
import type { BuildContext } from './processor'

/** The signal, late by its look-ahead, times `onDb` while the key is over the threshold and `offDb` while it is not. */
export function switched(
  signal: Signal,
  { builder, key, params: p, sampleRate, keySignal }: BuildContext,
  onDb: number,
  offDb: number
): Signal {
  const threshold = p.thresholdDb as number
  const curve = builder.switchCurve(key, keySignal, [
    gainOf(threshold),
    gainOf(threshold - (p.hysteresisDb as number)),
    onDb,
    offDb,
    coefficient(p.attackMs as number, sampleRate),
    coefficient(p.releaseMs as number, sampleRate),
    Math.round(((p.holdMs as number) * sampleRate) / 1000)
  ])
  return builder.multiply(
    key,
    builder.delay(`${key}/ahead`, signal, Math.round(((p.lookAheadMs as number) * sampleRate) / 1000)),
    curve
  )
}

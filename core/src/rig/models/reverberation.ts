// The reverb that units are made of: the session's own algorithm, with what a unit is like instead of settings.
import type { Signal } from '../../plan/operations'
import { complete } from '../../processors/processor'
import { reverb } from '../../processors/reverb'
import type { Params } from '../../session/rows'
import type { UnitContext } from '../unit'

export const reverberation = (
  signal: Signal,
  key: string,
  like: Params,
  { builder, sampleRate }: Pick<UnitContext, 'builder' | 'sampleRate'>
): Signal =>
  reverb.build(signal, {
    builder,
    key,
    params: complete(reverb.parameters, { ...like, preDelayMs: 0 }),
    sampleRate,
    // It has no tempo, no responses and no key.
    beatMs: 500,
    responseFrames: () => 0,
    keySignal: signal
  })

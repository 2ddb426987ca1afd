// All processors, by id. A slot may also hold a loop, or a processor that is not here: that one passes audio untouched.
import { dictionaryBy } from '../foundation/dictionary'
import type { Params } from '../session/rows'
import { equaliser } from './equaliser'
import { compressor } from './compressor'
import { convolution } from './convolution'
import { delay } from './delay'
import { ducker } from './ducker'
import { gate } from './gate'
import { limiter } from './limiter'
import { reverb } from './reverb'
import { saturation } from './saturation'
import { spectralKeying } from './spectral'
import { tremolo } from './tremolo'
import { width } from './width'
import { complete, type Processor } from './processor'

export const PROCESSORS: Record<string, Processor> = dictionaryBy(
  [
    equaliser,
    compressor,
    limiter,
    gate,
    ducker,
    saturation,
    spectralKeying,
    delay,
    reverb,
    convolution,
    tremolo,
    width
  ],
  p => p.id
)

export const LOOP = 'loop'

export const isPlaceholder = (processor: string) => processor !== LOOP && !(processor in PROCESSORS)

export const slotLabel = (processor: string) =>
  processor === LOOP ? 'Loop' : (PROCESSORS[processor]?.label ?? processor)

export const settingsOf = (processor: Processor, params: Params) => complete(processor.parameters, params)

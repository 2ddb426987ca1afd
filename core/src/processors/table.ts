// All processors, by id. A slot may also hold a loop, or a processor that is not here: that one passes audio untouched.
import type { Params } from '../session/rows'
import { equaliser } from './equaliser'
import { compressor } from './compressor'
import { delay } from './delay'
import { reverb } from './reverb'
import { complete, type Processor } from './processor'

export const PROCESSORS: Record<string, Processor> =
  Object.fromEntries([equaliser, compressor, delay, reverb].map(p => [p.id, p]))

export const LOOP = 'loop'

export const isPlaceholder = (processor: string) => processor !== LOOP && !(processor in PROCESSORS)

export const slotLabel = (processor: string) =>
  processor === LOOP ? 'Loop' : PROCESSORS[processor]?.label ?? processor

export const settingsOf = (processor: Processor, params: Params) => complete(processor.parameters, params)

// The stand-ins for real units, by model.
import { dictionaryBy } from '../foundation/dictionary'
import { modellingProcessor } from './models/modellingProcessor'
import { passiveEqualiser } from './models/passiveEqualiser'
import { plate } from './models/plate'
import { player } from './models/player'
import { reampAttenuator } from './models/reampAttenuator'
import { spring } from './models/spring'
import { summing } from './models/summing'
import { tapeDeck } from './models/tapeDeck'
import { tubeAmplifier } from './models/tubeAmplifier'
import { valveCompressor } from './models/valveCompressor'
import { wire } from './models/wire'
import type { UnitModel } from './unit'

export const UNITS: Record<string, UnitModel> = dictionaryBy(
  [
    tubeAmplifier,
    modellingProcessor,
    valveCompressor,
    passiveEqualiser,
    tapeDeck,
    spring,
    reampAttenuator,
    plate,
    summing(8, -82),
    summing(16, -80),
    player,
    wire
  ],
  u => u.model
)

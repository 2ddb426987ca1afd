// All checks.
import { Network } from '../graph/network'
import type { Session } from '../session/session'
import type { Check, Finding } from './check'
import { audibleTrigger } from './audibleTrigger'
import { clipping } from './clipping'
import { deadEnd } from './deadEnd'
import { defaultName } from './defaultName'
import { droppedLegs } from './droppedLegs'
import { equalNames } from './equalNames'
import { freeClock } from './freeClock'
import { heardTwice } from './heardTwice'
import { loopTime } from './loopTime'
import { missingProcessor } from './missingProcessor'
import { mutedButLeaving } from './mutedButLeaving'
import { noAttenuator } from './noAttenuator'
import { notCompensated } from './notCompensated'
import { NOTHING_SEEN, type Observed } from './observe'
import { parkedKey } from './parkedKey'
import { putBack } from './putBack'
import { returnNotHeard } from './returnNotHeard'
import { routeInside } from './routeInside'
import { sameEffect } from './sameEffect'
import { silentSend } from './silentSend'
import { soloLeftOn } from './soloLeftOn'
import { strangerInUnit } from './strangerInUnit'
import { trackNowhere } from './trackNowhere'
import { unfedBus } from './unfedBus'
import { unitOff } from './unitOff'
import { wentWrong } from './wentWrong'

export const CHECKS: Check[] = [
  soloLeftOn,
  clipping,
  heardTwice,
  audibleTrigger,
  wentWrong,
  unitOff,
  strangerInUnit,
  routeInside,
  putBack,
  noAttenuator,
  freeClock,
  notCompensated,
  loopTime,
  deadEnd,
  trackNowhere,
  returnNotHeard,
  unfedBus,
  silentSend,
  parkedKey,
  mutedButLeaving,
  droppedLegs,
  missingProcessor,
  sameEffect,
  defaultName,
  equalNames
]

/** @param seen peaks from playing or rendering, for what the rows alone cannot say */
export function runChecks(session: Session, network = new Network(session), seen: Observed = NOTHING_SEEN): Finding[] {
  return CHECKS.flatMap(check => check.find(session, network, seen).map(f => ({ check: check.id, ...f })))
}

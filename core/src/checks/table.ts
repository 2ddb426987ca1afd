// All checks.
import { Network } from '../network/network'
import type { Session } from '../session/session'
import type { Check, Finding } from './check'
import { deadEnd } from './deadEnd'
import { defaultName } from './defaultName'
import { droppedLegs } from './droppedLegs'
import { heardTwice } from './heardTwice'
import { loopTime } from './loopTime'
import { missingProcessor } from './missingProcessor'
import { mutedButLeaving } from './mutedButLeaving'
import { parkedKey } from './parkedKey'
import { silentSend } from './silentSend'
import { soloLeftOn } from './soloLeftOn'
import { unfedBus } from './unfedBus'
import { unitOff } from './unitOff'

export const CHECKS: Check[] = [
  soloLeftOn, heardTwice, unitOff, loopTime, deadEnd, unfedBus, silentSend, parkedKey, mutedButLeaving, droppedLegs, missingProcessor, defaultName
]

export function runChecks(session: Session, network = new Network(session)): Finding[] {
  return CHECKS.flatMap(check => check.find(session, network).map(f => ({ check: check.id, ...f })))
}

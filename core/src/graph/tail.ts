// What rings on after the last sound: the longest tail of any processor in use.
import { beatMs } from '../notes/tempo'
import { responseFrames } from '../processors/responses'
import { PROCESSORS, settingsOf } from '../processors/table'
import { rows, settings, type Session } from '../session/session'

/** Seconds; 0 where nothing rings on. */
export function longestTailS(session: Session): number {
  const { sampleRate, tempo } = settings(session)
  const context = { sampleRate, beatMs: beatMs(tempo), responseFrames: (id: string) => responseFrames(session, id) }
  const tails = rows(session, 'slot').map(slot => {
    const processor = PROCESSORS[slot.processor]
    if (!processor?.tailS || slot.state === 'off') return 0
    return processor.tailS(settingsOf(processor, slot.params), context)
  })
  return Math.max(0, ...tails)
}

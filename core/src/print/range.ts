// How long a session is, and the tail a print should keep for what rings on.
import { log10 } from '../foundation/elementary'
import { phraseFrames } from '../notes/phrases'
import { beatMs } from '../notes/tempo'
import { responseFrames } from '../processors/responses'
import { delayMs } from '../processors/delay'
import { PROCESSORS, settingsOf } from '../processors/table'
import { rows, settings, type Session } from '../session/session'

/**
 * Frames to the end of the last clip or note; prints do not count: their tails would make every print longer than the
 * one before.
 */
export function clipFrames(session: Session): number {
  const printed = new Set(rows(session, 'print').map(p => p.channel))
  return Math.max(
    0,
    ...rows(session, 'phrase').map(p => phraseFrames(session, p)),
    ...rows(session, 'clip')
      .filter(c => !printed.has(c.channel))
      .map(c => c.startFrame + (c.frames ?? session.medium[c.medium].frames - c.offsetFrames))
  )
}

/** Frames to the end of the last clip and of the longest tail after it. */
export function sessionFrames(session: Session): number {
  const rate = settings(session).sampleRate
  let tail = 0
  for (const slot of rows(session, 'slot')) {
    const processor = PROCESSORS[slot.processor]
    if (!processor || slot.state === 'off') continue
    const p = settingsOf(processor, slot.params)
    if (slot.processor === 'reverb') tail = Math.max(tail, p.decayS as number)
    if (slot.processor === 'convolution')
      tail = Math.max(
        tail,
        (p.preDelayMs as number) / 1000 +
          Math.min(p.endS as number, responseFrames(session, p.response as string) / rate)
      )
    if (slot.processor === 'delay') {
      // Repeats until they are 60 dB down.
      const feedback = Math.max(0.01, (p.feedback as number) / 100)
      tail = Math.max(
        tail,
        Math.min(
          10,
          (delayMs(p, beatMs(settings(session).tempo)) / 1000) * Math.min(100, Math.ceil(-3 / log10(feedback)) + 1)
        )
      )
    }
  }
  return clipFrames(session) + Math.round(tail * rate)
}

// How long a session is, with and without what rings on.
import { phraseFrames } from '../notes/phrases'
import { clipLength, rows, type Session, settings } from '../session/session'
import { longestTailS } from './tail'

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
      .map(c => c.startFrame + clipLength(session, c))
  )
}

/** Frames to the end of the last clip and of the longest tail after it. */
export const sessionFrames = (session: Session): number =>
  clipFrames(session) + Math.round(longestTailS(session) * settings(session).sampleRate)

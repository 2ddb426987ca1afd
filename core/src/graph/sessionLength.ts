// How long a session is, with and without what rings on.
import { unitSettings } from '../rig/unit'
import { UNITS } from '../rig/units'
import type { Unit } from '../session/rows'
import { phraseFrames } from '../notes/phrases'
import { clipLength, rows, type Session, settings } from '../session/session'
import { longestTailS } from './tail'

/**
 * Frames to the end of the last clip or note, or of what a player of the room plays; prints do not count: their tails
 * would make every print longer than the one before.
 */
export function clipFrames(session: Session): number {
  const printed = new Set(rows(session, 'print').map(p => p.channel))
  return Math.max(
    0,
    ...rows(session, 'unit').map(u => playedFrames(session, u)),
    ...rows(session, 'phrase').map(p => phraseFrames(session, p)),
    ...rows(session, 'clip')
      .filter(c => !printed.has(c.channel))
      .map(c => c.startFrame + clipLength(session, c))
  )
}

function playedFrames(session: Session, unit: Unit): number {
  const medium = session.medium[unit.plays ?? ''],
    model = UNITS[unit.model]
  if (!medium || !model?.plays || unit.rig !== settings(session).rig) return 0
  const { startS } = unitSettings(model, unit.settings)
  return Math.round((startS as number) * settings(session).sampleRate) + medium.frames
}

/** Frames to the end of the last clip and of the longest tail after it. */
export const sessionFrames = (session: Session): number =>
  clipFrames(session) + Math.round(longestTailS(session) * settings(session).sampleRate)

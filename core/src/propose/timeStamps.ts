// Clips where the files say that they were recorded: the earliest at the start of the session, the others as much later
// as their time stamps are.
import { rows, type Session } from '../session/session'

export interface PlacedClip {
  id: string
  startFrame: number
}

/**
 * @param channels those whose clips are placed
 * @returns clips that would lie elsewhere, frames from the start; null where fewer than two files have a time stamp
 */
export function byTimeStamps(session: Session, channels: ReadonlySet<string>): PlacedClip[] | null {
  const stamped = rows(session, 'clip').flatMap(clip => {
    const since = channels.has(clip.channel) ? (session.medium[clip.medium]?.timeReference ?? null) : null
    return since === null ? [] : [{ clip, at: since + clip.offsetFrames }]
  })
  if (new Set(stamped.map(s => s.clip.medium)).size < 2) return null
  const first = stamped.reduce((least, s) => Math.min(least, s.at), Infinity)
  return stamped.flatMap(({ clip, at }) =>
    clip.startFrame === at - first ? [] : [{ id: clip.id, startFrame: at - first }]
  )
}

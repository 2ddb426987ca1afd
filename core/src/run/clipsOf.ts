// What lies in sources: the heard clips of a channel, or the one piece that a player plays.
import type { PlanSource } from '../compile/plan'
import { unitSettings } from '../rig/unit'
import { UNITS } from '../rig/units'
import { ClipRow, type Clip } from '../session/rows'
import { byId, heardClips, settings, type Session } from '../session/session'

/** By key of source, each in order of id. */
export function clipsOf(session: Session, sources: readonly PlanSource[]): Map<string, Clip[]> {
  const byChannel = new Map<string, Clip[]>()
  for (const clip of heardClips(session)) {
    const clips = byChannel.get(clip.channel)
    if (clips) clips.push(clip)
    else byChannel.set(clip.channel, [clip])
  }
  return new Map(
    sources.map(({ key, channel, unit }) => [
      key,
      channel === null ? played(session, key, unit) : (byChannel.get(channel) ?? []).sort(byId)
    ])
  )
}

function played(session: Session, key: string, unit = ''): Clip[] {
  const player = session.unit[unit],
    medium = session.medium[player?.plays ?? '']
  const model = UNITS[player?.model ?? '']
  if (!player || !medium || !model) return []
  const { startS } = unitSettings(model, player.settings)
  const startFrame = Math.round((startS as number) * settings(session).sampleRate)
  const legMap = model.outputs.map((_, jack) => Math.min(jack, medium.legs - 1))
  return [ClipRow.parse({ id: unit, channel: key, medium: medium.id, startFrame, legMap })]
}

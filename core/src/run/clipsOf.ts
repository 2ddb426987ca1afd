// What lies in a source: the heard clips of a channel, or the one piece that a player plays.
import type { PlanSource } from '../compile/plan'
import { unitSettings } from '../rig/unit'
import { UNITS } from '../rig/units'
import { ClipRow, type Clip } from '../session/rows'
import { byId, heardClips, settings, type Session } from '../session/session'

export function clipsOf(session: Session, { key, channel, unit }: PlanSource): Clip[] {
  if (channel !== null)
    return heardClips(session)
      .filter(c => c.channel === channel)
      .sort(byId)
  const played = session.unit[unit ?? ''],
    medium = session.medium[played?.plays ?? '']
  const model = UNITS[played?.model ?? '']
  if (!played || !medium || !model) return []
  const { startS } = unitSettings(model, played.settings)
  const startFrame = Math.round((startS as number) * settings(session).sampleRate)
  const legMap = model.outputs.map((_, jack) => Math.min(jack, medium.legs - 1))
  return [ClipRow.parse({ id: `${unit}`, channel: key, medium: medium.id, startFrame, legMap })]
}

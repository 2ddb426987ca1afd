// A wet print beside its dry track: a copy of the source without its slots is heard beside the print, and one balance
// sets both. Their amplitudes add up to what the source had: wet × w + dry × (1 − w).
import { decibels, gainOf } from '../foundation/elementary'
import type { EditMessage } from '../session/editMessage'
import { derivedId } from '../session/ids'
import type { Print } from '../session/rows'
import { rows, type Session } from '../session/session'

export const dryId = (print: string): string => derivedId(print, 'dry')

/** What a level is where nothing is blended: at the post-fader tap the source's fader is in the audio. */
const wetBase = (session: Session, { source, tap }: Print): number =>
  tap === 'post' ? 0 : (session.channel[source ?? '']?.levelDb ?? 0)
const dryBase = (session: Session, { source }: Print): number => session.channel[source ?? '']?.levelDb ?? 0

/** Does its source play audio or notes of its own, that can be heard dry? */
export const mayBlend = (session: Session, print: Print): boolean =>
  print.takesOver &&
  print.share === null &&
  session.channel[print.source ?? '']?.kind === 'track' &&
  rows(session, 'clip').some(c => c.channel === print.source)

/** Share of the wet, 0 … 1; null where nothing is blended. */
export function wetShare(session: Session, print: Print): number | null {
  const dry = session.channel[dryId(print.id)],
    wet = session.channel[print.channel]
  if (!dry || !wet) return null
  const w = wet.levelDb === null ? 0 : gainOf(wet.levelDb - wetBase(session, print)),
    d = dry.levelDb === null ? 0 : gainOf(dry.levelDb - dryBase(session, print))
  return w + d === 0 ? 0 : w / (w + d)
}

const level = (share: number, base: number): number | null =>
  share <= 0 ? null : Math.max(-120, Math.round(100 * (base + decibels(share))) / 100)

/** @param wet 0 … 1 · @param order of the dry track, which is made where it is not there yet */
export function blendEdit(session: Session, print: Print, wet: number, order: string): EditMessage {
  const dry = dryId(print.id),
    source = session.channel[print.source ?? '']!,
    isThere = dry in session.channel
  const make = {
    verb: 'duplicateChannels',
    args: { copies: [{ of: source.id, id: dry, name: `${source.name} dry`, order }], along: ['clips', 'main'] }
  }
  const fields = { levelDb: level(1 - wet, dryBase(session, print)), parked: false, muted: false }
  return {
    verb: 'several',
    args: {
      label: isThere ? `Balance of “${source.name}”` : `“${source.name}” dry beside its print`,
      edits: [
        ...(isThere ? [] : [make]),
        { verb: 'setChannels', args: { ids: [dry], fields: isThere ? { levelDb: fields.levelDb } : fields } },
        {
          verb: 'setChannels',
          args: { ids: [print.channel], fields: { levelDb: level(wet, wetBase(session, print)) } }
        }
      ]
    }
  }
}

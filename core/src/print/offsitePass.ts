// An off-site pass of a session: audio of a track goes out in a file with marks, is played through a unit elsewhere,
// comes back as a file that is brought in like any other, and is laid on a track of its own where what was sent lies.
import { z } from 'zod'
import { Network } from '../graph/network'
import type { OffsiteReturn, OffsiteShape } from '../measure/offsite'
import { Refusal } from '../foundation/refusal'
import type { EditMessage } from '../session/editMessage'
import { derivedId } from '../session/ids'
import type { Clip, Row } from '../session/rows'
import { byId, rows, type Session } from '../session/session'
import { printRows, type MadePrint, type PrintItem } from './printRows'

/** Room behind what is sent for what rings on: as long as the longest reverb here. */
export const OFFSITE_TAIL_S = 12

export const OffsiteArgs = z.object({
  /** The track that was sent, and which audio of it. */
  source: z.string(),
  sent: z.string(),
  /** The track on which what came back lies as it came. */
  back: z.string(),
  /** Of the new rows. */
  print: z.string(),
  track: z.string(),
  clip: z.string(),
  medium: z.string(),
  name: z.string().min(1).max(300),
  order: z.string(),
  /** What was sent is silenced, so that it is not heard beside what came back. */
  mutes: z.boolean().default(true)
})
export type OffsiteArgs = z.output<typeof OffsiteArgs>

/** The feed file of a medium, as sent and as looked for. */
export const offsiteShape = (medium: Pick<Row<'medium'>, 'frames'>, rate: number): OffsiteShape => ({
  rate,
  frames: medium.frames,
  tailFrames: OFFSITE_TAIL_S * rate
})

/** Audio of a track that can go out, each once, with the clips that play it; in the order in which it begins. */
export function audioOf(session: Session, track: string): { medium: Row<'medium'>; clips: Clip[] }[] {
  const clips = [...(new Network(session).clips.get(track) ?? [])].sort((a, b) => a.startFrame - b.startFrame)
  return [...new Set(clips.map(c => c.medium))].flatMap(id => {
    const medium = session.medium[id]
    return medium ? [{ medium, clips: clips.filter(c => c.medium === id).sort(byId) }] : []
  })
}

/** What a pass is made from, as it is now. @throws Refusal that names what is not there any more */
export function offsiteParts(session: Session, { source, sent, back }: OffsiteArgs) {
  const kept = 'What came back stays on its track.'
  const from = audioOf(session, source).find(a => a.medium.id === sent)
  if (!from)
    throw new Refusal(
      'notFound',
      `What was sent is not on “${session.channel[source]?.name ?? source}” any more`,
      [source],
      kept
    )
  const [returned, ...others] = audioOf(session, back)
  const name = session.channel[back]?.name ?? back
  if (!returned) throw new Refusal('notFound', `There is no audio on “${name}”: bring in what came back`, [back], kept)
  if (others.length)
    throw new Refusal('badArguments', `“${name}” holds several files: one is to be what came back`, [back], kept)
  if (returned.medium.id === sent)
    throw new Refusal('badArguments', `“${name}” holds what was sent, not what came back`, [back], kept)
  const [first] = from.clips
  return {
    ...from,
    returned: returned.medium,
    name,
    /** Where the audio that was sent begins, of which clips may play a part. */
    startFrame: Math.max(0, first.startFrame - first.offsetFrames)
  }
}

/** What was found and put right, in sentences. */
export function offsiteNotes(
  { offsetFrames, ppm, inverted, gainDb, confidence }: Omit<OffsiteReturn, 'audio'>,
  name: string,
  rate: number
): string[] {
  const clock =
    Math.abs(ppm) < 0.05 ? 'as ours' : `${Math.abs(ppm).toFixed(1)} ppm ${ppm > 0 ? 'fast' : 'slow'}, put right`
  return [
    `from outside, by files: its first mark was found at ${(offsetFrames / rate).toFixed(3)} s of “${name}”`,
    `its clock ran ${clock}`,
    inverted === null
      ? 'its polarity is not certain: left as it came'
      : inverted
        ? 'its polarity was turned: turned back'
        : 'its polarity is as sent',
    gainDb === null
      ? 'its gain is not certain: left as it came'
      : `its gain was ${gainDb.toFixed(2).replace('-', '−')} dB: put right`,
    `certain to ${Math.floor(confidence * 100)} %`
  ]
}

/**
 * One step: a track of its own with what came back under the clips of what was sent, which goes where that goes; what
 * it came in on is parked.
 */
export function offsiteEdit(session: Session, args: OffsiteArgs, made: Omit<MadePrint, 'startFrame'>): EditMessage {
  const { clips, medium, startFrame } = offsiteParts(session, args),
    { source, print, track, clip, mutes } = args
  const item: PrintItem = {
    ...{ source, print, track, clip, medium: args.medium, name: args.name, order: args.order },
    ...{ tap: 'input', takesOver: false, share: null, through: null, pass: 0, take: null }
  }
  const laid = printRows(session, item, { ...made, startFrame })
  /** A clip that plays to the end plays on: what rings there is new. */
  const isToTheEnd = (c: Clip) => c.frames === null || c.offsetFrames + c.frames >= medium.frames
  const copies = clips.map((c, i) => ({
    table: 'clip' as const,
    row: {
      ...c,
      id: i ? derivedId(print, c.id) : clip,
      channel: track,
      medium: args.medium,
      name: args.name,
      take: null,
      legMap: null,
      ...(isToTheEnd(c) ? { frames: null, fadeOutFrames: 0 } : {})
    }
  }))
  const feeds = rows(session, 'feed').flatMap(f =>
    f.kind === 'main' && f.from === source
      ? [{ table: 'feed' as const, row: { ...f, id: derivedId(print, f.id), from: track } }]
      : []
  )
  const { levelDb, pan } = session.channel[source]
  const placed = laid.flatMap(r =>
    r.table === 'clip' ? copies : r.table === 'channel' ? { ...r, row: { ...r.row, levelDb, pan } } : r
  )
  return {
    verb: 'several',
    args: {
      label: `“${args.name}” from outside`,
      edits: [
        { verb: 'addRows', args: { label: args.name, rows: [...placed, ...feeds] } },
        { verb: 'setChannels', args: { ids: [args.back], fields: { parked: true } } },
        ...(mutes ? [{ verb: 'setChannels', args: { ids: [source], fields: { muted: true } } }] : [])
      ]
    }
  }
}

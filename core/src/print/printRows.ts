// The rows of a finished print: medium, track, clip, and what it takes over from its source. A print of a tap stands
// for everything up to it; what comes after is copied: see docs/engine.md, “Printing”.
import { z } from 'zod'
import { carried } from '../movement/carry'
import { LOOP } from '../processors/table'
import { TAPS, Through, type Row, type Tap, type TableName } from '../session/rows'
import { derivedId } from '../session/ids'
import { rows, slotsOf, type Session } from '../session/session'

/** What is wanted: made where the gesture is made, ids and all. */
export const PrintItem = z.object({
  source: z.string(),
  tap: z.enum(TAPS),
  print: z.string(),
  track: z.string(),
  clip: z.string(),
  medium: z.string(),
  name: z.string().min(1).max(300),
  order: z.string(),
  /** Takes the source's place in the network, or stands by itself. */
  takesOver: z.boolean().default(true),
  /** With the share of this channel’s tracks alone. Such a print stands by itself. */
  share: z.string().nullable().default(null),
  /** Sent out and back for this print alone; `tap` is then where what comes back belongs, pre or post. */
  through: Through.nullable().default(null),
  /** Its place among the passes of one job. */
  pass: z.number().int().min(0).max(999).default(0),
  /** A take of `track`, which is there already, and what becomes of what lies there loose; null: a new track. */
  take: z
    .object({
      id: z.string(),
      name: z.string().min(1).max(300),
      former: z.object({ id: z.string(), name: z.string().min(1).max(300) })
    })
    .nullable()
    .default(null)
})
export type PrintItem = z.output<typeof PrintItem>

export const PrintArgs = z.object({
  items: z.array(PrintItem).min(1, 'nothing is named to be printed'),
  from: z.number().int().min(0).default(0),
  /** Frames; the whole session and its tails when left out. */
  frames: z.number().int().min(1).nullable().default(null),
  /** Where all is printed: until it has rung out after the last sound; null: as long as processors say. */
  tail: z
    .object({ untilDb: z.number().min(-144).max(-20), mostS: z.number().min(0.1).max(600) })
    .nullable()
    .default(null),
  /**
   * Frames that a pass through units runs before what is printed and behind it; both are discarded. Units stand still
   * before. Null: they have run from the beginning of the session.
   */
  roll: z
    .object({ pre: z.number().int().min(0), post: z.number().int().min(0) })
    .nullable()
    .default(null),
  seed: z
    .number()
    .int()
    .min(0)
    .max(2 ** 31)
})
export type PrintArgs = z.output<typeof PrintArgs>

/** What a print row keeps of how it was made. */
const KEPT = [
  'fingerprint',
  'parts',
  'seed',
  'startFrame',
  'frames',
  'latencySamples',
  'residualDb',
  'verified',
  'notes',
  'printedAt',
  'faults'
] as const satisfies readonly (keyof Row<'print'>)[]

export type MadePrint = Pick<Row<'medium'>, 'sha256' | 'peakDb' | 'loudnessLufs' | 'sampleRate'> &
  Pick<Row<'print'>, (typeof KEPT)[number]> & { layout: string[] }

const AFTER: Record<Tap, Tap[]> = { input: ['input', 'pre', 'post'], pre: ['pre', 'post'], post: ['post'] }

type NewRow = { table: TableName; row: object }

/** What the audio of a print is called, for as long as it is not in a package. */
export const printFile = (print: string): string => `audio/${print}.wav`

function mediumRow(item: PrintItem, made: MadePrint): NewRow {
  const { layout, sha256, frames, peakDb, loudnessLufs, sampleRate } = made
  const file = printFile(item.print),
    legs = layout.length
  return {
    table: 'medium',
    row: { id: item.medium, name: item.name, sha256, file, legs, frames, sampleRate, peakDb, loudnessLufs }
  }
}

const clipRow = (item: PrintItem, { startFrame }: MadePrint, take: string | null): NewRow => ({
  table: 'clip',
  row: { id: item.clip, channel: item.track, medium: item.medium, name: item.name, startFrame, take }
})

function printRow(item: PrintItem, made: MadePrint): NewRow {
  const { source, tap, clip, share, through } = item,
    takesOver = item.takesOver && share === null
  const kept = Object.fromEntries(KEPT.map(field => [field, made[field]]))
  return {
    table: 'print',
    row: { id: item.print, channel: item.track, source, tap, clip, share, takesOver, through, ...kept }
  }
}

/**
 * What a print is as another take of a track that is there: what comes after it stays the track's own.
 * @param order the take's place among those of the track
 */
export function takeRows(item: PrintItem, made: MadePrint, order: string): NewRow[] {
  const { id, name } = item.take!
  return [
    mediumRow(item, made),
    { table: 'take', row: { id, channel: item.track, name, order } },
    clipRow(item, made, id),
    printRow(item, made)
  ]
}

/** What a print is on a track of its own. */
export function printRows(session: Session, item: PrintItem, made: MadePrint): NewRow[] {
  const source = session.channel[item.source]
  const { layout } = made
  const fader =
    item.takesOver && item.share === null && item.tap !== 'post' ? { levelDb: source.levelDb, pan: source.pan } : {}
  const out: NewRow[] = [
    mediumRow(item, made),
    {
      table: 'channel',
      row: {
        id: item.track,
        name: item.name,
        kind: 'track',
        role: 'track',
        layout,
        family: source.family,
        colour: source.colour,
        order: item.order,
        ...fader
      }
    },
    clipRow(item, made, null)
  ]
  if (item.takesOver && item.share === null) {
    const after = whatComesAfter(session, item)
    out.push(...after, ...movementAfter(session, item, after))
  }
  out.push(printRow(item, made))
  return out
}

/** Copies of the slots, keys, main feeds and sends that lie after the printed tap. */
function whatComesAfter(session: Session, item: PrintItem): NewRow[] {
  const out: NewRow[] = []
  // A loop can be in one place at a time: it stays with the source.
  const slots = slotsOf(session, item.source).filter(
    s => s.processor !== LOOP && (s.afterFader ? item.tap !== 'post' : item.tap === 'input')
  )
  for (const slot of slots) {
    out.push({ table: 'slot', row: { ...slot, id: derivedId(item.print, slot.id), channel: item.track } })
    for (const key of rows(session, 'feed').filter(f => f.kind === 'key' && f.slot === slot.id)) {
      out.push({
        table: 'feed',
        row: { ...key, id: derivedId(item.print, key.id), slot: derivedId(item.print, slot.id) }
      })
    }
  }
  for (const feed of rows(session, 'feed')) {
    const leaves =
      feed.from === item.source && (feed.kind === 'main' || feed.kind === 'send') && AFTER[item.tap].includes(feed.tap)
    if (!leaves) continue
    // At the post-fader tap the print's own fader is at unity; placement that was the channel's moves into the feed.
    const placed = item.tap === 'post' ? { pan: feed.pan ?? session.channel[item.source].pan } : {}
    out.push({ table: 'feed', row: { ...feed, ...placed, id: derivedId(item.print, feed.id), from: item.track } })
  }
  return out
}

/**
 * Envelopes of what comes after. At the post-fader tap the channel's ride is in the audio, and its pan moves into the
 * feeds that had it from the channel.
 */
function movementAfter(session: Session, item: PrintItem, after: NewRow[]): NewRow[] {
  const there = new Set(after.map(a => (a.row as { id: string }).id))
  const copies = carried(session, item.source, item.track, item.print, (_, row) =>
    there.has(derivedId(item.print, row)) ? derivedId(item.print, row) : null
  )
  if (item.tap !== 'post') return copies.map(row => ({ table: 'envelope', row }))
  const pan = copies.find(e => e.channel && e.field === 'pan')
  const placed = rows(session, 'feed').filter(
    f =>
      pan &&
      f.pan === null &&
      there.has(derivedId(item.print, f.id)) &&
      !copies.some(e => e.feed === derivedId(item.print, f.id) && e.field === 'pan')
  )
  return [
    ...copies.filter(e => !e.channel).map(row => ({ table: 'envelope' as const, row })),
    ...placed.map(f => ({
      table: 'envelope' as const,
      row: { ...pan, id: derivedId(pan!.id, f.id), channel: null, feed: derivedId(item.print, f.id) }
    }))
  ]
}

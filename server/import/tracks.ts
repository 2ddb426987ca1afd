// A dropped file becomes one or more tracks: media, channels, clips and main feeds in the transaction that ends it. Or
// it becomes the impulse response of a slot.
import { familyTable, guessFamily } from '@nullet/core/session/families'
import type { FamilyRule } from '@nullet/core/session/rows'
import { keysAfter } from '@nullet/core/session/order'
import { settings } from '@nullet/core/session/session'
import { withoutEnding } from '@nullet/core/formats/soundFile'
import type { Sql } from '../store/connect'
import { importSound, type Imported } from './audio'
import { withEdits, type Stored } from '../store/edits'
import { loadSession } from '../store/sessions'

export interface ImportArgs {
  /** Prefix of the ids of all rows that are made. */
  id: string
  file: string
  /** Order key after which the tracks are put. */
  after: string | null
  /** Where their main feeds go; null for nowhere. */
  to: string | null
  split: boolean
  /** The slot whose impulse response it is to be; then no track is made. */
  response: string | null
  /** Names the gesture and whose it is: bringing a file in is one step of undo. */
  gesture: string
  client: string
}

export async function importTracks(
  sql: Sql,
  session: string,
  source: AsyncIterable<Uint8Array>,
  total: number | null,
  args: ImportArgs
): Promise<Stored & { notes: string[] }> {
  const { session: now } = await loadSession(sql, session)
  const rate = settings(now).sampleRate,
    families = familyTable(now)
  const made = await importSound(sql, source, args.file, total, rate, args.split)
  const orders = keysAfter(args.after, made.length)
  try {
    const stored = await withEdits(sql, async (t, edit) => {
      for (const m of made) await m.writer.publish(t, m.info)
      const message = args.response
        ? responseEdit(made[0], args, rate)
        : {
            verb: 'addRows',
            args: {
              label: `Bring in ${args.file}`,
              rows: made.flatMap((m, i) => trackRows(m, i, orders[i], rate, made.length, args, families))
            }
          }
      return edit(session, message, { gesture: args.gesture, client: args.client })
    })
    const first = made[0]
    return {
      ...stored,
      notes: first.originalRate ? [`${args.file} was at ${first.originalRate} Hz and was converted to ${rate} Hz`] : []
    }
  } catch (error) {
    for (const m of made) await m.writer.discard()
    throw error
  }
}

/** The medium, and the slot that listens to it. */
function responseEdit(m: Imported, { id, file, response }: ImportArgs, rate: number) {
  const name = withoutEnding(file)
  const medium = mediumRow(m, `${id}-m`, name, file, rate)
  return {
    verb: 'several',
    args: {
      label: `Impulse response “${name}”`,
      edits: [
        { verb: 'addRows', args: { label: name, rows: [{ table: 'medium', row: medium }] } },
        { verb: 'setSlot', args: { id: response, fields: { params: { response: medium.id } } } }
      ]
    }
  }
}

const mediumRow = (m: Imported, id: string, name: string, file: string, rate: number) => ({
  id,
  name,
  file,
  sha256: m.info.sha256,
  legs: m.info.legs,
  frames: m.info.frames,
  sampleRate: rate,
  originalRate: m.originalRate,
  peakDb: m.peakDb,
  loudnessLufs: m.loudnessLufs,
  title: m.title,
  timeReference: m.timeReference
})

function trackRows(
  m: Imported,
  i: number,
  order: string,
  rate: number,
  count: number,
  { id: prefix, file, to }: ImportArgs,
  families: readonly FamilyRule[]
) {
  const id = count === 1 ? prefix : `${prefix}-${i + 1}`
  const name = withoutEnding(file) + (count === 1 ? '' : ` ${i + 1}`)
  const { family, colour } = guessFamily(name, families)
  return [
    { table: 'medium', row: mediumRow(m, `${id}-m`, name, file, rate) },
    {
      table: 'channel',
      row: {
        id,
        name: name || 'Track',
        kind: 'track',
        layout: m.layout,
        order,
        family,
        familyGuessed: family !== '',
        colour
      }
    },
    { table: 'clip', row: { id: `${id}-c`, channel: id, medium: `${id}-m`, name } },
    ...(to ? [{ table: 'feed', row: { id: `${id}-f`, kind: 'main', from: id, to } }] : [])
  ]
}

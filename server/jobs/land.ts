// Where the prints of a pass come to lie. The session may have changed while the pass ran: what was rendered is never
// lost because a destination is gone; it lies unassigned then, and says so.
import { applyEdit } from '@nullet/core/edits/apply'
import { printRows, takeRows, type MadePrint, type PrintItem } from '@nullet/core/print/printRows'
import { Refusal } from '@nullet/core/foundation/refusal'
import type { Row, TableName } from '@nullet/core/session/rows'
import { derivedId } from '@nullet/core/session/ids'
import { ordersAfter } from '@nullet/core/session/order'
import { REFERENCES, rows as rowsOf, takesOf, type Session } from '@nullet/core/session/session'

type RowOf = { table: TableName; row: object }
interface Edit {
  verb: string
  args: Record<string, unknown>
}

const BARE: readonly TableName[] = ['medium', 'channel', 'clip']

/** Ways to lie, from the one that was meant to the one that always can be. */
const WAYS: readonly { rows(all: RowOf[], now: Session): RowOf[]; note(item: PrintItem): string | null }[] = [
  { rows: all => all, note: () => null },
  {
    rows: whatFits,
    note: item =>
      `“${item.name}” goes only where there is still something to go to: the session has changed while the pass ran`
  },
  {
    rows: all =>
      all
        .filter(r => BARE.includes(r.table) || r.table === 'print')
        .map(r => (r.table === 'print' ? { ...r, row: { ...r.row, takesOver: false } } : r)),
    note: item => `“${item.name}” lies unassigned: where it was to go, the session has changed while the pass ran`
  },
  {
    rows: all => all.filter(r => BARE.includes(r.table)),
    note: item => `“${item.name}” lies unassigned: what it was printed from is not in the session any more`
  }
]

/**
 * Without the copies of feeds, slots and envelopes that name something that is gone, and without what hangs on those.
 */
function whatFits(all: RowOf[], now: Session): RowOf[] {
  const made = new Set(all.map(r => `${r.table} ${(r.row as { id: string }).id}`))
  const there = (target: TableName, id: unknown) =>
    typeof id !== 'string' || id in now[target] || made.has(`${target} ${id}`)
  const left = all.filter(
    ({ table, row }) =>
      BARE.includes(table) ||
      table === 'print' ||
      Object.entries(REFERENCES[table] ?? {}).every(([field, target]) =>
        [(row as Record<string, unknown>)[field]].flat().every(id => there(target, id))
      )
  )
  return left.length === all.length ? all : whatFits(left, now)
}

/** The edits by which one print comes to lie, and a note where it does not lie as it was meant to. */
interface Laid {
  edits: Edit[]
  note: string | null
}
const addRows = (label: string, rows: RowOf[]): Edit => ({ verb: 'addRows', args: { label, rows } })

/** As another take of a track that is there. Null where that track is not there any more, or has other legs now. */
function asTake(now: Session, item: PrintItem, made: MadePrint): Laid | null {
  const channel = now.channel[item.track]
  if (!item.take || !now.channel[item.source] || channel?.layout.length !== made.layout.length) return null
  const [formerOrder, order] = ordersAfter(takesOf(now, item.track), 2) as [string, string]
  return {
    edits: [
      { verb: 'gatherTakes', args: { channel: item.track, take: { ...item.take.former, order: formerOrder } } },
      addRows(item.name, takeRows(item, made, order)),
      { verb: 'hearTake', args: { channel: item.track, take: item.take.id } }
    ],
    note: null
  }
}

/** On a track of its own, as it was meant to or as near to it as can be. @throws Refusal where not even that can be */
function onTrack(now: Session, then: Session, item: PrintItem, made: MadePrint): Laid {
  // What was to be a take of a track that has other legs now gets another track.
  const free = item.take && now.channel[item.track] ? { ...item, track: derivedId(item.print, 'track') } : item
  const all = printRows(then, free, made)
  let refused: unknown
  for (const way of WAYS) {
    const edits = [addRows(item.name, way.rows(all, now))]
    try {
      after(now, edits)
      const moved = item.take
        ? `“${item.name}” lies on a track of its own: it fits the one it was made for no more`
        : null
      return { edits, note: way.note(item) ?? moved }
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      refused ??= error
    }
  }
  throw refused
}

const after = (session: Session, edits: readonly Edit[]): Session =>
  edits.reduce((s, edit) => applyEdit(s, edit).session, session)

/**
 * @param now the session as it is; @param then as it was when the pass began
 * @returns the edits by which all prints come to lie, for each a note where it could not lie as it was meant to or
 * another one makes room for it
 * @throws Refusal where not even that can be
 */
export function land(
  now: Session,
  then: Session,
  prints: readonly { item: PrintItem; made: MadePrint }[]
): { edits: Edit[]; notes: (string | null)[] } {
  const edits: Edit[] = [],
    notes: (string | null)[] = []
  let session = now
  for (const { item, made } of prints) {
    const laid = asTake(session, item, made) ?? onTrack(session, then, item, made)
    session = after(session, laid.edits)
    edits.push(...laid.edits)
    notes.push(laid.note)
  }
  const aside = stepAside(
    now,
    prints.flatMap(p => session.print[p.item.print] ?? [])
  )
  aside.forEach(({ track, by }) => {
    const at = prints.findIndex(p => p.item.print === by)
    const note = `“${now.channel[track]?.name ?? track}” stood in this place before and is parked`
    notes[at] = [notes[at], note].filter(Boolean).join('; ')
  })
  if (aside.length)
    edits.push({ verb: 'setChannels', args: { ids: aside.map(a => a.track), fields: { parked: true } } })
  return { edits, notes }
}

/**
 * Prints that stand where new ones on other tracks take over: both together would be heard twice. They are parked, not
 * removed.
 */
function stepAside(now: Session, made: readonly Row<'print'>[]): { track: string; by: string }[] {
  return rowsOf(now, 'print').flatMap(({ source, takesOver, channel }) => {
    const next = made.find(p => p.takesOver && p.source === source && p.channel !== channel)
    return takesOver && next && now.channel[channel] && !now.channel[channel].parked
      ? [{ track: channel, by: next.id }]
      : []
  })
}

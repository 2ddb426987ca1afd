// Where the prints of a pass come to lie. The session may have changed while the pass ran: what was rendered is never
// lost because a destination is gone; it lies unassigned then, and says so.
import { applyEdit } from '@nullet/core/edits/apply'
import { printRows, type MadePrint, type PrintItem } from '@nullet/core/print/printRows'
import { Refusal } from '@nullet/core/foundation/refusal'
import type { Row, TableName } from '@nullet/core/session/rows'
import { REFERENCES, rows as rowsOf, type Session } from '@nullet/core/session/session'

type RowOf = { table: TableName; row: object }

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

/**
 * @param now the session as it is; @param then as it was when the pass began
 * @returns the rows of all prints, for each a note where it could not lie as it was meant to, and the tracks of former
 * prints that they stand in for
 * @throws Refusal where not even that can be
 */
export function land(
  now: Session,
  then: Session,
  prints: readonly { item: PrintItem; made: MadePrint }[]
): { rows: RowOf[]; notes: (string | null)[]; aside: string[] } {
  const rows: RowOf[] = [],
    notes: (string | null)[] = []
  let session = now
  for (const { item, made } of prints) {
    const all = printRows(then, item, made)
    const before = session
    let refused: unknown
    const way = WAYS.find(w => {
      try {
        session = applyEdit(session, {
          verb: 'addRows',
          args: { label: item.name, rows: w.rows(all, session) }
        }).session
        return true
      } catch (error) {
        if (!(error instanceof Refusal)) throw error
        refused ??= error
        return false
      }
    })
    if (!way) throw refused
    rows.push(...way.rows(all, before))
    notes.push(way.note(item))
  }
  const aside = stepAside(now, rows)
  aside.forEach(({ track, by }) => {
    const at = prints.findIndex(p => p.item.print === by)
    const note = `“${now.channel[track]?.name ?? track}” stood in this place before and is parked`
    notes[at] = [notes[at], note].filter(Boolean).join('; ')
  })
  return { rows, notes, aside: aside.map(a => a.track) }
}

/** Prints that stand where new ones take over: both together would be heard twice. They are parked, not removed. */
function stepAside(now: Session, made: readonly RowOf[]): { track: string; by: string }[] {
  const takingOver = made
    .filter(r => r.table === 'print')
    .map(r => r.row as Row<'print'>)
    .filter(p => p.takesOver)
  return rowsOf(now, 'print').flatMap(({ source, takesOver, channel }) => {
    const next = takingOver.find(p => p.source === source)
    return takesOver && next && now.channel[channel] && !now.channel[channel].parked
      ? [{ track: channel, by: next.id }]
      : []
  })
}

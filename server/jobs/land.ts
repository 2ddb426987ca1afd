// Where the prints of a pass come to lie. The session may have changed while the pass ran: what was rendered is never lost
// because a destination is gone; it lies unassigned then, and says so.
import { applyEdit } from '@nullet/core/edits/apply'
import { printRows, type MadePrint, type PrintItem } from '@nullet/core/print/printRows'
import { Refusal } from '@nullet/core/refusal'
import type { TableName } from '@nullet/core/session/rows'
import type { Session } from '@nullet/core/session/session'

type RowOf = { table: TableName, row: object }

const BARE: readonly TableName[] = ['medium', 'channel', 'clip']

/** Ways to lie, from the one that was meant to the one that always can be. */
const WAYS: readonly { rows(all: RowOf[]): RowOf[], note(item: PrintItem): string | null }[] = [
  { rows: all => all, note: () => null },
  {
    rows: all => all.filter(r => BARE.includes(r.table) || r.table === 'print').map(r => r.table === 'print' ? { ...r, row: { ...r.row, takesOver: false } } : r),
    note: item => `“${item.name}” lies unassigned: where it was to go, the session has changed while the pass ran`
  },
  { rows: all => all.filter(r => BARE.includes(r.table)), note: item => `“${item.name}” lies unassigned: what it was printed from is not in the session any more` }
]

/**
 * @param now the session as it is; @param then as it was when the pass began
 * @returns the rows of all prints, and for each a note where it could not lie as it was meant to
 * @throws Refusal where not even that can be
 */
export function land(now: Session, then: Session, prints: readonly { item: PrintItem, made: MadePrint }[]): { rows: RowOf[], notes: (string | null)[] } {
  const rows: RowOf[] = [], notes: (string | null)[] = []
  let session = now
  for (const { item, made } of prints) {
    const all = printRows(then, item, made)
    let refused: unknown
    const way = WAYS.find(w => {
      try { session = applyEdit(session, { verb: 'addRows', args: { label: item.name, rows: w.rows(all) } }).session; return true } catch (error) {
        if (!(error instanceof Refusal)) throw error
        refused ??= error
        return false
      }
    })
    if (!way) throw refused
    rows.push(...way.rows(all))
    notes.push(way.note(item))
  }
  return { rows, notes }
}

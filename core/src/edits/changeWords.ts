// What changes of rows mean, in words: for lists of what was done, and before something is taken back.
import { canonical } from '../foundation/hash'
import { capital, rowWords } from '../invariants/words'
import type { TableName } from '../session/rows'
import { REFERENCES, type RowChange, type Session } from '../session/session'

type Fields = Record<string, unknown>

/** Where the name of a field is not the word for it. */
const WORDS: Record<string, string> = {
  levelDb: 'level',
  trimDb: 'trim',
  sendDb: 'send level',
  returnDb: 'return level',
  lowCutHz: 'low cut',
  highCutHz: 'high cut',
  order: 'place',
  to: 'goal',
  flippedLegs: 'polarity',
  heardChannel: 'what is heard',
  heardLevelDb: 'listening level'
}
const fieldWord = (field: string): string =>
  WORDS[field] ?? field.replace(/(Db|Hz|Ms)$/, '').replace(/[A-Z]/g, c => ` ${c.toLowerCase()}`)

/** A value as it is written; undefined where it would be too long to read. */
function valueWord(session: Session, table: TableName, field: string, value: unknown): string | undefined {
  if (value === null) return /Db$/.test(field) ? '−∞ dB' : 'none'
  if (typeof value === 'boolean') return value ? 'on' : 'off'
  if (typeof value === 'number') {
    const text = String(Number(value.toPrecision(4))).replace('-', '−')
    return /Db$/.test(field) ? `${value > 0 ? '+' : ''}${text} dB` : /Hz$/.test(field) ? `${text} Hz` : text
  }
  if (typeof value !== 'string') return undefined
  const target = (REFERENCES[table] as Record<string, TableName> | undefined)?.[field]
  const row = target && (session[target] as Record<string, { name?: string }>)[value]
  return row?.name ?? value
}

function changedFields(session: Session, { table, before, after }: RowChange): string {
  const was = before as Fields,
    is = after as Fields
  const words = Object.keys(is)
    .filter(f => canonical(was[f]) !== canonical(is[f]))
    .map(f => {
      const [a, b] = [valueWord(session, table, f, was[f]), valueWord(session, table, f, is[f])]
      return f === 'order' || a === undefined || b === undefined ? fieldWord(f) : `${fieldWord(f)} ${a} → ${b}`
    })
  return words.join(', ')
}

/**
 * A line for every row that changes.
 * @param session where rows are looked up for their names: before the changes or after
 */
export const changeWords = (session: Session, changes: readonly RowChange[]): string[] =>
  changes.map(change => {
    const { table, before, after } = change
    if (!after) return `${capital(rowWords(session, table, before as { id: string }))} goes`
    if (!before) return `${capital(rowWords(session, table, after as { id: string }))} comes`
    return `${capital(rowWords(session, table, after as { id: string }))}: ${changedFields(session, change)}`
  })

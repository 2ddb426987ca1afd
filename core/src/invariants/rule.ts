// What a rule is. Rules always hold: for every edit, package, template, table and print alike.
import type { RefusalKind } from '../foundation/refusal'
import type { Row, TableName } from '../session/rows'
import type { Session } from '../session/session'

/** What breaks a rule, as a sentence for a person. */
export interface Breach {
  kind: RefusalKind
  message: string
  about: string[]
}

/** What is looked at: a whole session, or what an edit touched in it. */
export interface Look {
  session: Session
  /** Rows that are new or differ; all of them where a whole session is looked at. */
  touched<T extends TableName>(table: T): Row<T>[]
  /** The same, each with the id under which it lies. */
  keyed(table: TableName): [id: string, row: unknown][]
}

export interface Rule {
  /** What always holds. */
  says: string
  /** Fields a change of which can break it. A row that comes or goes counts as all its fields. */
  depends: Partial<Record<TableName, readonly string[] | 'all'>>
  find(look: Look): Iterable<Breach>
  /**
   * Makes what breaks it legal, as little as possible, and says what was done.
   * @param session its tables may be written to; its rows may not
   */
  mend(session: Session): string[]
  /** A package that breaks it is mended instead of refused. */
  gentle?: true
  /** Can be looked at only where it is known what the session's audio is. */
  ofAudio?: true
}

export const defineRule = (rule: Rule): Rule => rule

/** A rule about rows of one table, each by itself. `mend` gives the row that takes its place. */
export function ruleOfRows<T extends TableName>(
  rule: Omit<Rule, 'find' | 'mend'> & {
    table: T
    fault(session: Session, row: Row<T>): Breach | null
    mend(session: Session, row: Row<T>): { row: Row<T>; notes: string[] }
  }
): Rule {
  const { table, fault, mend, ...rest } = rule
  return {
    ...rest,
    *find({ session, touched }) {
      for (const row of touched(table)) {
        const breach = fault(session, row)
        if (breach) yield breach
      }
    },
    mend(session) {
      const rows = session[table] as Record<string, Row<T>>
      return Object.values(rows).flatMap(row => {
        if (!fault(session, row)) return []
        const { row: mended, notes } = mend(session, row)
        rows[row.id] = mended
        return notes
      })
    }
  }
}

// The log of a session as people read it: what was done, when, by whom. One's own steps come with their changes, so
// that they can be taken back after the page was loaded anew.
import type { Log, LogEntry } from '@nullet/core/session/log'
import type { RowChange } from '@nullet/core/session/session'
import type { Sql } from './connect'
import { noSession } from './edits'

const PAGE = 100
/** Changes beyond so much text are left out, from the oldest on. */
const MOST_CHARACTERS = 4_000_000

/**
 * A page of the log.
 * @param hand pages of one browser have names that begin with it
 * @param before the revision from which on nothing is asked; the newest when left out
 */
export async function readLog(sql: Sql, id: string, hand: string, before?: number): Promise<Log> {
  const [head] = await sql<{ era: string }[]>`select era from session_here where id = ${id}`
  if (!head) throw noSession(id)
  const found = await sql<(LogEntry & { madeAt: Date; changes: RowChange[] | null })[]>`
    with page as (
      select * from edit_log where session_id = ${id} and revision < ${before ?? 2 ** 31 - 1}
      order by revision desc limit ${PAGE}),
    measured as (
      select *, ${hand} <> '' and starts_with(client, ${`${hand}-`}) as own,
        sum(case when starts_with(client, ${`${hand}-`}) then length(changes::text) else 0 end)
          over (order by revision desc) as characters
      from page)
    select revision, label, gesture, client, made_at, reverts,
      case when own and characters <= ${MOST_CHARACTERS} then changes end as changes
    from measured order by revision desc`
  return {
    era: head.era,
    entries: found.map(({ changes, ...e }) => ({ ...e, madeAt: e.madeAt.toISOString(), ...(changes && { changes }) }))
  }
}

// What was removed and can be brought back: sessions, templates and rigs of the library, for so many days.
import type { Removed } from '@nullet/core/session/summary'
import type { Sql } from './connect'
import { rigs } from './rigs'
import { templates } from './templates'

/** Days for which it is kept. */
const KEPT_DAYS = 30
const SHELVES = [templates, rigs]

/** The newest first. */
export async function listRemoved(sql: Sql): Promise<Removed[]> {
  const found = await Promise.all([
    sql<Found[]>`
      select 'session' as kind, h.id, s.name, h.removed_at
      from session_head h join session s on s.session_id = h.id where h.removed_at is not null`,
    ...SHELVES.map(shelf => shelf.removed(sql))
  ])
  return found
    .flat()
    .sort((a, b) => Number(b.removedAt) - Number(a.removedAt))
    .map(r => ({ ...r, removedAt: r.removedAt.toISOString() }))
}
type Found = Omit<Removed, 'removedAt'> & { removedAt: Date }

/** What has been away for longer than it is kept goes for good. */
export async function forgetRemoved(sql: Sql): Promise<void> {
  await sql`delete from session_head where removed_at < now() - make_interval(days => ${KEPT_DAYS})`
  for (const shelf of SHELVES) await shelf.forget(sql, KEPT_DAYS)
}

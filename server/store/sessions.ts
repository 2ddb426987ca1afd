// Sessions: listed, made, read, removed. What changes in them is in edits.ts.
import { firstBreach } from '@nullet/core/invariants/index'
import { Refusal } from '@nullet/core/foundation/refusal'
import { TABLE_NAMES } from '@nullet/core/session/rows'
import { rows, settings, type RowChange, type Session } from '@nullet/core/session/session'
import type { SessionSummary } from '@nullet/core/session/summary'
import type { Sql, Transaction } from './connect'
import { noSession, storedGestures } from './edits'
import { readSession, writeChanges } from './rows'

export async function listSessions(sql: Sql): Promise<SessionSummary[]> {
  const found = await sql<(SessionSummary & { updatedAt: Date })[]>`
    select h.id, s.name, h.revision, h.updated_at, s.sample_rate, coalesce(n.tracks, 0) as tracks,
      coalesce(n.buses, 0) as buses, coalesce(l.frames, 0)::float8 as frames, coalesce(a.bytes, 0)::float8 as bytes
    from session_here h
    join session s on s.session_id = h.id
    left join (
      select session_id, count(*) filter (where kind = 'track')::int as tracks,
        count(*) filter (where kind = 'bus')::int as buses
      from channel group by session_id
    ) n on n.session_id = h.id
    left join (
      select c.session_id, max(c.start_frame + coalesce(c.frames, m.frames - c.offset_frames)) as frames
      from clip c join medium m on m.session_id = c.session_id and m.id = c.medium group by c.session_id
    ) l on l.session_id = h.id
    left join (
      select session_id, sum(bytes) as bytes
      from (select distinct session_id, sha256, legs * frames * 4 as bytes from medium) once group by session_id
    ) a on a.session_id = h.id
    order by h.updated_at desc, h.id`
  return found.map(s => ({ ...s, updatedAt: s.updatedAt.toISOString() }))
}

/** Another session of the same rows; audio is shared, as everywhere. @throws Refusal where the id is taken */
export const copySession = (sql: Sql, from: string, id: string, name: string): Promise<void> =>
  sql.begin('isolation level repeatable read', async t => {
    const session = (await sessionIsThere(t, from)) && (await readSession(t, from))
    if (!session) throw noSession(from)
    session.session.session = { ...settings(session), name }
    await createSession(t, id, session)
  }) as Promise<void>

/** @throws Refusal where a rule is broken, or the id is taken */
export async function createSession(sql: Sql | Transaction, id: string, session: Session): Promise<void> {
  const breach = firstBreach(session)
  if (breach) throw new Refusal(breach.kind, breach.message, breach.about)
  const changes: RowChange[] = TABLE_NAMES.flatMap(table =>
    rows(session, table).map(row => ({ table, id: row.id, before: null, after: row }))
  )
  const make = async (t: Transaction) => {
    await t`delete from session_head where id = ${id} and removed_at is not null`
    const made = await t`insert into session_head (id) values (${id}) on conflict (id) do nothing returning id`
    if (!made.length) throw new Refusal('idTaken', `There is a session with the id “${id}” already`, [id])
    await writeChanges(t, id, changes)
  }
  await ('begin' in sql ? sql.begin(make) : make(sql))
}

/** Puts it away: nobody finds it any more, and its work ends. It can be brought back (removed.ts). */
export const removeSession = (sql: Sql, id: string) =>
  sql.begin(async t => {
    await t`update session_here set removed_at = now() where id = ${id}`
    await t`delete from job where session_id = ${id} and ended_at is null`
  })

/** @throws Refusal where nothing of that id was removed */
export async function restoreSession(sql: Sql, id: string): Promise<void> {
  const back =
    await sql`update session_head set removed_at = null where id = ${id} and removed_at is not null returning id`
  if (!back.length && !(await sessionIsThere(sql, id))) throw noSession(id)
}

export const sessionIsThere = async (sql: Sql | Transaction, id: string): Promise<boolean> =>
  (await sql`select 1 from session_here where id = ${id}`).length > 0

/** @throws Refusal where it is not there */
export async function revisionOf(sql: Sql, id: string): Promise<number> {
  const [head] = await sql<{ revision: number }[]>`select revision from session_here where id = ${id}`
  if (!head) throw noSession(id)
  return head.revision
}

export interface Loaded {
  session: Session
  revision: number
  era: string
  /** Of the gestures that were asked about, those that are stored. */ stored: string[]
}

/** @param asked gestures whose answer may have been lost */
export async function loadSession(sql: Sql, id: string, asked: readonly string[] = []): Promise<Loaded> {
  return (await sql.begin('isolation level repeatable read', async t => {
    const [head] = await t<{ revision: number; era: string }[]>`select revision, era from session_here where id = ${id}`
    const session = head && (await readSession(t, id))
    if (!session) throw noSession(id)
    return { session, ...head, stored: asked.length ? await storedGestures(t, id, asked) : [] }
  })) as Loaded
}

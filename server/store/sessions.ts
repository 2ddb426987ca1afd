// Sessions: listed, made, read, changed. The session's row is locked while an edit is applied: that orders edits.
import { applyEdit, type EditMessage } from '@nullet/core/edits/apply'
import { Refusal } from '@nullet/core/refusal'
import { TABLE_NAMES } from '@nullet/core/session/rows'
import { rows, type RowChange, type Session } from '@nullet/core/session/session'
import { changesHash } from '@nullet/core/session/hash'
import type { Sql, Transaction } from './connect'
import { readSession, writeChanges } from './rows'

export interface SessionSummary { id: string, name: string, revision: number, tracks: number, buses: number, updatedAt: string }

export async function listSessions(sql: Sql): Promise<SessionSummary[]> {
  const found = await sql<(SessionSummary & { updatedAt: Date })[]>`
    select h.id, s.name, h.revision, h.updated_at,
      (select count(*)::int from channel c where c.session_id = h.id and c.kind = 'track') as tracks,
      (select count(*)::int from channel c where c.session_id = h.id and c.kind = 'bus') as buses
    from session_head h join session s on s.session_id = h.id order by h.updated_at desc`
  return found.map(s => ({ ...s, updatedAt: s.updatedAt.toISOString() }))
}

export async function createSession(sql: Sql | Transaction, id: string, session: Session): Promise<void> {
  const changes: RowChange[] = TABLE_NAMES.flatMap(table => rows(session, table).map(row => ({ table, id: row.id, before: null, after: row })))
  const make = async (t: Transaction) => {
    await t`insert into session_head (id) values (${id})`
    await writeChanges(t, id, changes)
  }
  await ('begin' in sql ? sql.begin(make) : make(sql))
}

export const removeSession = (sql: Sql, id: string) => sql`delete from session_head where id = ${id}`

export interface Loaded { session: Session, revision: number }

export async function loadSession(sql: Sql, id: string): Promise<Loaded> {
  return await sql.begin('isolation level repeatable read', async t => {
    const [head] = await t<{ revision: number }[]>`select revision from session_head where id = ${id}`
    const session = head && await readSession(t, id)
    if (!session) throw new Refusal('notFound', `There is no session “${id}”`, [id])
    return { session, revision: head.revision }
  }) as Loaded
}

/** Sessions as this process knows them; right only while the revision is still the stored one. */
const known = new Map<string, Loaded>()

/** `tab` names the gesture that made it, so that one whose answer was lost is known again. */
export interface Stored { revision: number, changes: RowChange[], label: string, hash: string, tab: string }
export interface Missed { missed: Stored[] }

/**
 * Applies an edit on top of the revision it was made on. When others were faster, answers with what was missed:
 * the client puts its own on top and asks again.
 */
export async function storeEdit(sql: Sql, id: string, base: number, message: EditMessage, tab: string): Promise<Stored | Missed> {
  return await sql.begin(async t => {
    const [head] = await t<{ revision: number }[]>`select revision from session_head where id = ${id} for update`
    if (!head) throw new Refusal('notFound', `There is no session “${id}”`, [id])
    if (base !== head.revision) return { missed: await editsSince(t, id, base) }
    return await applyInside(t, id, head.revision, message, tab)
  }) as Stored | Missed
}

/** For jobs: applies an edit on whatever the session is now, in a transaction of the caller's. */
export async function storeEditNow(t: Transaction, id: string, message: EditMessage, tab: string): Promise<Stored> {
  const [head] = await t<{ revision: number }[]>`select revision from session_head where id = ${id} for update`
  if (!head) throw new Refusal('notFound', `There is no session “${id}”`, [id])
  return applyInside(t, id, head.revision, message, tab)
}

async function applyInside(t: Transaction, id: string, current: number, message: EditMessage, tab: string): Promise<Stored> {
  let here = known.get(id)
  if (here?.revision !== current) here = { session: (await readSession(t, id))!, revision: current }
  const { session, changes, label } = applyEdit(here.session, message)
  const revision = current + 1
  const hash = changesHash(changes)
  await writeChanges(t, id, changes)
  await t`insert into edit_log ${t({ sessionId: id, revision, label, tab, changes: t.json(changes as never), hash })}`
  await t`update session_head set revision = ${revision}, updated_at = now() where id = ${id}`
  await t`select pg_notify('nullet_edit', ${JSON.stringify({ session: id, revision, tab })})`
  // If the transaction fails to commit, the stored revision stays behind this one and the entry is not used.
  known.set(id, { session, revision })
  return { revision, changes, label, hash, tab }
}

export async function editsSince(sql: Sql | Transaction, id: string, revision: number): Promise<Stored[]> {
  return await sql<Stored[]>`select revision, label, changes, hash, tab from edit_log where session_id = ${id} and revision > ${revision} order by revision`
}

// Edits: ordered by the lock on their session's row, applied once a gesture however often it arrives, kept in the log.
import { applySteps } from '@nullet/core/edits/apply'
import type { EditMessage } from '@nullet/core/session/editMessage'
import { Refusal } from '@nullet/core/foundation/refusal'
import { changesHash } from '@nullet/core/session/changesHash'
import type { RowChange, Session } from '@nullet/core/session/session'
import type { Sql, Transaction } from './connect'
import { KnownSessions, type Known } from './knownSessions'
import { readSession, writeChanges } from './rows'

/** Whose hand it was, and the key by which the gesture is known wherever it arrives. */
export interface By {
  gesture: string
  client: string
  /** The gesture that this one takes back or makes again. */
  reverts?: string
}

/** An edit as the log has it. */
export interface Stored extends By {
  revision: number
  changes: RowChange[]
  label: string
  hash: string
}

/** What a client has missed, in order; `done`: the gesture that was asked for is among them or before. */
export interface Posted {
  edits: Stored[]
  done: boolean
  era: string
  /** Too much was missed: load the session anew. */ reload?: true
}

/** More than so many missed edits are not told one by one. */
const MOST_MISSED = 200

const known = new KnownSessions()

interface Head {
  revision: number
  era: string
}

async function lockHead(t: Transaction, id: string): Promise<Head> {
  const [head] = await t<Head[]>`select revision, era from session_here where id = ${id} for update`
  if (!head) throw noSession(id)
  return head
}

export const noSession = (id: string) => new Refusal('noSession', `There is no session “${id}”`, [id])

/**
 * Applies an edit on top of the revision it was made on. When others were faster, answers with what was missed: the
 * client puts its own on top and asks again.
 * @param cache sessions as this process knows them
 * @throws Refusal `ahead` where the client knows more than is stored, or another session of this name: it must load
 * anew
 */
export async function postEdit(
  sql: Sql,
  id: string,
  from: { base: number; era: string },
  edit: EditMessage,
  by: By,
  cache = known
): Promise<Posted> {
  let made: Known | null = null
  const answer = (await sql.begin(async (t): Promise<Posted> => {
    const head = await lockHead(t, id)
    if (from.era !== head.era || from.base > head.revision) throw ahead(id)
    const again = await revisionOf(t, id, by.gesture)
    if (again !== null || from.base !== head.revision)
      return { ...(await missed(t, id, from.base, head)), done: again !== null }
    const { stored, left } = await applyInside(t, id, head, edit, by, cache)
    made = left
    return { edits: [stored], done: true, era: head.era }
  })) as Posted
  if (made) cache.keep(id, made)
  return answer
}

const ahead = (id: string) =>
  new Refusal(
    'ahead',
    'What is stored of this session is not what this page began with. It is loaded anew.',
    [id],
    'What waits here is kept and put on top.'
  )

const revisionOf = async (t: Transaction, id: string, gesture: string): Promise<number | null> =>
  (await t<{ revision: number }[]>`select revision from edit_log where session_id = ${id} and gesture = ${gesture}`)[0]
    ?.revision ?? null

async function missed(t: Sql | Transaction, id: string, base: number, head: Head): Promise<Omit<Posted, 'done'>> {
  if (head.revision - base > MOST_MISSED) return { edits: [], era: head.era, reload: true }
  return { edits: await editsAfter(t, id, base), era: head.era }
}

const editsAfter = (t: Sql | Transaction, id: string, revision: number) =>
  t<Stored[]>`select revision, label, changes, hash, gesture, client from edit_log where session_id = ${id}
    and revision > ${revision} order by revision` as Promise<Stored[]>

/** What came after a revision, for a page that catches up. */
export async function editsSince(
  sql: Sql,
  id: string,
  from: { base: number; era: string }
): Promise<Omit<Posted, 'done'>> {
  const [head] = await sql<Head[]>`select revision, era from session_here where id = ${id}`
  if (!head) throw noSession(id)
  if (from.era !== head.era || from.base > head.revision) return { edits: [], era: head.era, reload: true }
  return from.base === head.revision ? { edits: [], era: head.era } : missed(sql, id, from.base, head)
}

/**
 * Applies edits on whatever the session is then, inside a transaction of the caller's. A gesture that is there already
 * is not applied again.
 */
export type EditNow = (id: string, edit: EditMessage, by: By) => Promise<Stored>

/**
 * A transaction that may hold edits beside other work: what it left is known only once it has been committed. `current`
 * locks a session and gives it as it is.
 */
export async function withEdits<T>(
  sql: Sql,
  act: (t: Transaction, edit: EditNow, current: (id: string) => Promise<Session>) => Promise<T>,
  cache = known
): Promise<T> {
  const made = new Map<string, Known>()
  const result = (await sql.begin(async t =>
    act(
      t,
      async (id, message, by) => {
        const head = await lockHead(t, id)
        const [again] = await t<
          Stored[]
        >`select revision, label, changes, hash, gesture, client from edit_log where session_id = ${id}
          and gesture = ${by.gesture}`
        if (again) return again
        const before = made.get(id)
        const { stored, left } = await applyInside(t, id, head, message, by, cache, before)
        made.set(id, left)
        return stored
      },
      async id => {
        const head = await lockHead(t, id)
        return made.get(id)?.session ?? (await sessionAt(t, id, head, cache))
      }
    )
  )) as T
  for (const [id, left] of made) cache.keep(id, left)
  return result
}

async function sessionAt(t: Transaction, id: string, head: Head, cache: KnownSessions): Promise<Session> {
  const session = cache.at(id, head.revision, head.era) ?? (await readSession(t, id))
  if (!session) throw noSession(id)
  return session
}

/** Long work lets others go first between its steps. */
async function yielding<T>(steps: Generator<void, T>): Promise<T> {
  for (;;) {
    const began = performance.now(),
      { done, value } = steps.next()
    if (done) return value
    if (performance.now() - began > LONG_MS) await new Promise<void>(next => setImmediate(next))
  }
}
/** A step that took longer than this is followed by others' work. */
const LONG_MS = 5

async function applyInside(
  t: Transaction,
  id: string,
  head: Head,
  message: EditMessage,
  by: By,
  cache: KnownSessions,
  before?: Known
): Promise<{ stored: Stored; left: Known }> {
  const here = before?.session ?? (await sessionAt(t, id, head, cache))
  const { session, changes, label } = await yielding(applySteps(here, message))
  const revision = head.revision + 1,
    hash = changesHash(changes)
  await writeChanges(t, id, changes)
  await t`insert into edit_log ${t({ sessionId: id, revision, label, ...by, reverts: by.reverts ?? null, changes: t.json(changes as never), hash })}`
  await t`update session_head set revision = ${revision}, updated_at = now() where id = ${id}`
  await t`select pg_notify('nullet_edit', ${JSON.stringify({ session: id, revision })})`
  return { stored: { revision, changes, label, hash, ...by }, left: { session, revision, era: head.era } }
}

/** Of these gestures, those that the log has. */
export const storedGestures = async (sql: Sql | Transaction, id: string, asked: readonly string[]): Promise<string[]> =>
  (
    await sql<
      { gesture: string }[]
    >`select gesture from edit_log where session_id = ${id} and gesture = any(${asked as string[]})`
  ).map(r => r.gesture)

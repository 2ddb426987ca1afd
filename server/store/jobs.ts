// Jobs as people see them. The queue itself is graphile-worker's; this table says what each is about and how it went.
import { Refusal } from '@nullet/core/foundation/refusal'
import type { Sql, Transaction } from './connect'
import { noSession } from './edits'

export type JobState = 'waiting' | 'running' | 'stopping' | 'done' | 'failed' | 'stopped'
export interface Job {
  id: string
  sessionId: string
  client: string
  kind: string
  label: string
  args: Record<string, unknown>
  state: JobState
  progress: number
  step: string
  result: unknown
  error: { error: string; message: string; about: string[]; kept: string } | null
  tries: number
  madeAt: Date
}

/** So often a job is begun before it has failed for good. The queue's own count is never the one that ends it. */
export const MOST_TRIES = 3
const QUEUE_TRIES = 1000

/** The job is another worker's: this one was taken for dead. */
export class TakenOver extends Error {
  constructor(id: string) {
    super(`the job ${id} is another worker’s now`)
  }
}

const COLUMNS = [
  'id',
  'sessionId',
  'client',
  'kind',
  'label',
  'args',
  'state',
  'progress',
  'step',
  'result',
  'error',
  'tries',
  'madeAt'
] as const

const tell = (sql: Sql | Transaction, id: string) => sql`select pg_notify('nullet_job', ${id})`

export async function addJob(
  sql: Sql,
  job: { id: string; sessionId: string; client: string; kind: string; label: string; args: unknown }
): Promise<void> {
  await sql.begin(async t => {
    // The session's row is held, so that it cannot go between this look and the job's own row.
    const [head] = await t`select 1 from session_head where id = ${job.sessionId} for share`
    if (!head) throw noSession(job.sessionId)
    const made =
      await t`insert into job ${t({ ...job, args: t.json(job.args as never) } as never)} on conflict (id) do nothing returning id`
    // The same request once more: its answer was lost.
    if (!made.length) return
    await t`select graphile_worker.add_job(${job.kind}, json_build_object('id', ${job.id}::text), max_attempts := ${QUEUE_TRIES})`
    await tell(t, job.id)
  })
}

export async function readJob(sql: Sql, id: string): Promise<Job | undefined> {
  return (await sql<Job[]>`select ${sql(COLUMNS as never)} from job where id = ${id}`)[0]
}

/** The newest first; finished ones of the last day. */
export async function listJobs(sql: Sql, session: string): Promise<Job[]> {
  if (!(await sql`select 1 from session_head where id = ${session}`).length) throw noSession(session)
  return await sql<Job[]>`
    select ${sql(COLUMNS as never)} from job where session_id = ${session}
      and (ended_at is null or ended_at > now() - interval '1 day') order by made_at desc limit 50`
}

export async function startJob(
  sql: Sql,
  id: string,
  workerLock: number,
  lockedBy: string | null
): Promise<Job | undefined> {
  const [job] = await sql<Job[]>`
    update job set state = 'running', progress = 0, started_at = now(), tries = tries + 1, worker_lock = ${workerLock}, locked_by = ${lockedBy}
    where id = ${id} and state in ('waiting', 'running') returning ${sql(COLUMNS as never)}`
  await tell(sql, id)
  return job
}

/** Says how far a job is. @returns its state, or null where it is not this worker's any more */
export async function reportJob(
  sql: Sql,
  id: string,
  lock: number,
  progress: number,
  step: string
): Promise<JobState | null> {
  const [job] = await sql<
    { state: JobState }[]
  >`update job set progress = ${progress}, step = ${step} where id = ${id} and worker_lock = ${lock} returning state`
  if (job) await tell(sql, id)
  return job?.state ?? null
}

/** @throws TakenOver where it is not this worker's any more: then nothing of the transaction may stay */
export async function endJob(
  sql: Sql | Transaction,
  id: string,
  lock: number,
  state: JobState,
  outcome: { result?: unknown; error?: unknown }
): Promise<void> {
  const ended =
    await sql`update job set state = ${state}, ended_at = now(), progress = ${state === 'done' ? 1 : 0}, worker_lock = null,
    result = ${sql.json((outcome.result ?? null) as never)}, error = ${sql.json((outcome.error ?? null) as never)} where id = ${id} and worker_lock = ${lock} returning id`
  if (!ended.length) throw new TakenOver(id)
  await tell(sql, id)
}

/** Given back to the queue, which brings it again. */
export async function retryJob(sql: Sql, id: string, lock: number, step: string): Promise<void> {
  await sql`update job set state = 'waiting', worker_lock = null, step = ${step} where id = ${id} and worker_lock = ${lock} and state = 'running'`
  await tell(sql, id)
}

/** One that ended without a result, once more from the beginning. @throws Refusal for one that is under way or done */
export async function againJob(sql: Sql, id: string): Promise<void> {
  await sql.begin(async t => {
    const [job] = await t<{ kind: string }[]>`
      update job set state = 'waiting', tries = 0, progress = 0, step = '', error = null, ended_at = null, worker_lock = null, made_at = now()
      where id = ${id} and state in ('failed', 'stopped') returning kind`
    if (!job) throw new Refusal('stale', 'This job is under way or done: it cannot be begun again', [id])
    await t`select graphile_worker.add_job(${job.kind}, json_build_object('id', ${id}::text), max_attempts := ${QUEUE_TRIES})`
    await tell(t, id)
  })
}

/** A waiting job ends at once; a running one is asked to. */
export async function stopJob(sql: Sql, id: string): Promise<void> {
  await sql`update job set state = case when state = 'waiting' then 'stopped' when state = 'running' then 'stopping' else state end,
    ended_at = case when state = 'waiting' then now() else ended_at end where id = ${id}`
  await tell(sql, id)
}

/**
 * Gives back the jobs of workers that are gone. A worker holds an advisory lock while it lives, and the database lets
 * go of it the moment its connection ends.
 */
export async function releaseDeadJobs(sql: Sql): Promise<string[]> {
  const released: string[] = []
  for (const job of await sql<
    {
      id: string
      label: string
      state: JobState
      step: string
      tries: number
      workerLock: number
      lockedBy: string | null
    }[]
  >`
    select id, label, state, step, tries, worker_lock, locked_by from job where state in ('running', 'stopping') and worker_lock is not null`) {
    const alive = await sql.begin(async t => {
      const [{ free }] = await t<{ free: boolean }[]>`select pg_try_advisory_xact_lock(${job.workerLock}) as free`
      return !free
    })
    if (alive) continue
    const over: Partial<Record<string, { state: JobState; error: unknown }>> = {
      stopping: { state: 'stopped', error: null },
      ...(job.tries >= MOST_TRIES
        ? {
            running: {
              state: 'failed',
              error: {
                error: 'failed',
                message: `“${job.label}”: its worker ended ${MOST_TRIES} times while it ran${job.step ? `, last while ${job.step}` : ''}. The worker’s log says why.`,
                about: [],
                kept: 'Nothing was stored.'
              }
            }
          }
        : {})
    }
    const end = over[job.state]
    // Only if it is still as it was seen: its worker may have come back.
    const [given] = end
      ? await sql`update job set state = ${end.state}, worker_lock = null, ended_at = now(), error = ${sql.json((end.error ?? null) as never)} where id = ${job.id} and worker_lock = ${job.workerLock} returning id`
      : await sql`update job set state = 'waiting', worker_lock = null, step = 'its worker ended; starting again' where id = ${job.id} and worker_lock = ${job.workerLock} returning id`
    if (!given) continue
    if (job.lockedBy) await sql`select graphile_worker.force_unlock_workers(array[${job.lockedBy}::text])`
    await tell(sql, job.id)
    released.push(job.id)
  }
  return released
}

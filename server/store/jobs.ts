// Jobs as people see them. The queue itself is graphile-worker's; this table says what each is about and how it went.
import type { Sql, Transaction } from './connect'
import { noSession } from './edits'

export type JobState = 'waiting' | 'running' | 'stopping' | 'done' | 'failed' | 'stopped'
export interface Job {
  id: string, sessionId: string, client: string, kind: string, label: string, args: Record<string, unknown>, state: JobState,
  progress: number, step: string, result: unknown, error: { error: string, message: string, about: string[], kept: string } | null, tries: number, madeAt: Date
}

const COLUMNS = ['id', 'sessionId', 'client', 'kind', 'label', 'args', 'state', 'progress', 'step', 'result', 'error', 'tries', 'madeAt'] as const

const tell = (sql: Sql | Transaction, id: string) => sql`select pg_notify('nullet_job', ${id})`

export async function addJob(sql: Sql, job: { id: string, sessionId: string, client: string, kind: string, label: string, args: unknown }): Promise<void> {
  await sql.begin(async t => {
    // The session's row is held, so that it cannot go between this look and the job's own row.
    const [head] = await t`select 1 from session_head where id = ${job.sessionId} for share`
    if (!head) throw noSession(job.sessionId)
    const made = await t`insert into job ${t({ ...job, args: t.json(job.args as never) } as never)} on conflict (id) do nothing returning id`
    // The same request once more: its answer was lost.
    if (!made.length) return
    await t`select graphile_worker.add_job(${job.kind}, json_build_object('id', ${job.id}::text), max_attempts := 3)`
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

export async function startJob(sql: Sql, id: string, workerLock: number, lockedBy: string | null): Promise<Job | undefined> {
  const [job] = await sql<Job[]>`
    update job set state = 'running', progress = 0, started_at = now(), tries = tries + 1, worker_lock = ${workerLock}, locked_by = ${lockedBy}
    where id = ${id} and state in ('waiting', 'running') returning ${sql(COLUMNS as never)}`
  await tell(sql, id)
  return job
}

/** Says how far a job is. Returns whether it has been asked to stop. */
export async function reportJob(sql: Sql, id: string, progress: number, step: string): Promise<boolean> {
  const [job] = await sql<{ state: JobState }[]>`update job set progress = ${progress}, step = ${step} where id = ${id} returning state`
  await tell(sql, id)
  return job?.state === 'stopping'
}

export async function endJob(sql: Sql | Transaction, id: string, state: JobState, outcome: { result?: unknown, error?: unknown }): Promise<void> {
  await sql`update job set state = ${state}, ended_at = now(), progress = ${state === 'done' ? 1 : 0}, worker_lock = null,
    result = ${sql.json((outcome.result ?? null) as never)}, error = ${sql.json((outcome.error ?? null) as never)} where id = ${id}`
  await tell(sql, id)
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
  for (const job of await sql<{ id: string, workerLock: number, lockedBy: string | null }[]>`
    select id, worker_lock, locked_by from job where state in ('running', 'stopping') and worker_lock is not null`) {
    const alive = await sql.begin(async t => {
      const [{ free }] = await t<{ free: boolean }[]>`select pg_try_advisory_xact_lock(${job.workerLock}) as free`
      return !free
    })
    if (alive) continue
    await sql`update job set state = case when state = 'stopping' then 'stopped' else 'waiting' end, worker_lock = null, step = 'its worker ended; starting again' where id = ${job.id}`
    if (job.lockedBy) await sql`select graphile_worker.force_unlock_workers(array[${job.lockedBy}::text])`
    await tell(sql, job.id)
    released.push(job.id)
  }
  return released
}

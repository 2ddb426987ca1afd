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

/** One entry of the queue a job, by its key: where another worker holds the old one, that one counts no more. */
const enqueue = (t: Transaction, { id, kind }: { id: string; kind: string }) =>
  t`select graphile_worker.add_job(${kind}, json_build_object('id', ${id}::text), job_key := ${id}, max_attempts := ${QUEUE_TRIES})`

export async function addJob(
  sql: Sql,
  job: { id: string; sessionId: string; client: string; kind: string; label: string; args: unknown }
): Promise<void> {
  await sql.begin(async t => {
    // The session's row is held, so that it cannot go between this look and the job's own row.
    const [head] = await t`select 1 from session_here where id = ${job.sessionId} for share`
    if (!head) throw noSession(job.sessionId)
    const made =
      await t`insert into job ${t({ ...job, args: t.json(job.args as never) } as never)} on conflict (id) do nothing
        returning id`
    // The same request once more: its answer was lost.
    if (!made.length) return
    await enqueue(t, job)
    await tell(t, job.id)
  })
}

export async function readJob(sql: Sql, id: string): Promise<Job | undefined> {
  return (await sql<Job[]>`select ${sql(COLUMNS as never)} from job where id = ${id}`)[0]
}

/** The newest first; finished ones of the last day. */
export async function listJobs(sql: Sql, session: string): Promise<Job[]> {
  if (!(await sql`select 1 from session_here where id = ${session}`).length) throw noSession(session)
  return await sql<Job[]>`
    select ${sql(COLUMNS as never)} from job where session_id = ${session}
      and (ended_at is null or ended_at > now() - interval '1 day') order by made_at desc limit 50`
}

export async function startJob(sql: Sql, id: string, workerLock: number): Promise<Job | undefined> {
  const [job] = await sql<Job[]>`
    update job set state = 'running', progress = 0, started_at = now(), tries = tries + 1, worker_lock = ${workerLock}
    where id = ${id} and (state = 'waiting' or (state = 'running' and worker_lock = ${workerLock}))
    returning ${sql(COLUMNS as never)}`
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
    result = ${sql.json((outcome.result ?? null) as never)}, error = ${sql.json((outcome.error ?? null) as never)}
    where id = ${id} and worker_lock = ${lock} returning id`
  if (!ended.length) throw new TakenOver(id)
  await tell(sql, id)
}

/** Given back to the queue, which brings it again. */
export async function retryJob(sql: Sql, id: string, lock: number, step: string): Promise<void> {
  await sql`update job set state = 'waiting', worker_lock = null, step = ${step} where id = ${id}
    and worker_lock = ${lock} and state = 'running'`
  await tell(sql, id)
}

/** One that ended without a result, once more from the beginning. @throws Refusal for one that is under way or done */
export async function againJob(sql: Sql, id: string): Promise<void> {
  await sql.begin(async t => {
    const [job] = await t<{ kind: string }[]>`
      update job set state = 'waiting', tries = 0, progress = 0, step = '', error = null, ended_at = null, worker_lock = null, made_at = now()
      where id = ${id} and state in ('failed', 'stopped') returning kind`
    if (!job) throw new Refusal('stale', 'This job is under way or done: it cannot be begun again', [id])
    await enqueue(t, { id, kind: job.kind })
    await tell(t, id)
  })
}

/** A waiting job ends at once; a running one is asked to. */
export async function stopJob(sql: Sql, id: string): Promise<void> {
  await sql`update job set state = case when state = 'waiting' then 'stopped' when state = 'running' then 'stopping'
    else state end,
    ended_at = case when state = 'waiting' then now() else ended_at end where id = ${id}`
  await tell(sql, id)
}

/**
 * Gives back the jobs of workers that are gone. A worker holds an advisory lock while it lives, and the database lets
 * go of it the moment its connection ends. And brings those that wait without an entry in the queue back into it: what
 * a worker that was taken for dead says of its entry may be the end of somebody else's.
 */
export async function tendJobs(sql: Sql, here: WorkingHere): Promise<void> {
  const held = await sql<Held[]>`
    select id, kind, label, state, step, tries, worker_lock from job where state in ('running', 'stopping')
    and worker_lock is not null`
  for (const job of held) {
    const forgotten = job.workerLock === here.lock && !here.jobs.has(job.id)
    await releaseIfDead(sql, job, forgotten)
  }
  const lost = await sql<{ id: string; kind: string }[]>`
    select id, kind from job where state = 'waiting' and not exists (
      select 1 from graphile_worker.jobs q where q.key = job.id and q.attempts < q.max_attempts
        and (q.locked_at is null or q.locked_at > now() - make_interval(secs => ${TAKEN_S})))`
  for (const job of lost) {
    await sql.begin(async t => {
      const [waits] = await t`select 1 from job where id = ${job.id} and state = 'waiting' for update skip locked`
      if (waits) await enqueue(t, job)
    })
  }
}

/** What this worker is and does: what it is said to do besides was begun by an answer that got lost. */
export interface WorkingHere {
  lock: number
  jobs: ReadonlySet<string>
}

/** A job that was taken from the queue says in far less than this that it runs. Seconds. */
const TAKEN_S = 10

interface Held {
  id: string
  kind: string
  label: string
  state: 'running' | 'stopping'
  step: string
  tries: number
  workerLock: number
}

async function releaseIfDead(sql: Sql, job: Held, forgotten: boolean): Promise<void> {
  await sql.begin(async t => {
    const [{ free }] = await t<{ free: boolean }[]>`select pg_try_advisory_xact_lock(${job.workerLock}) as free`
    if (!free && !forgotten) return
    const { state, step, error } = afterDeath(job)
    // Only if it is still as it was seen: its worker may have come back.
    const [given] = await t`
      update job set state = ${state}, step = ${step}, worker_lock = null,
        ended_at = case when ${state} = 'waiting' then null else now() end,
        error = ${t.json(error as never)} where id = ${job.id} and worker_lock = ${job.workerLock}
        and state = ${job.state} returning id`
    if (!given) return
    if (state === 'waiting') await enqueue(t, job)
    await tell(t, job.id)
  })
}

/** What becomes of a job whose worker ended. */
function afterDeath(job: Held): { state: JobState; step: string; error: Job['error'] } {
  if (job.state === 'stopping') return { state: 'stopped', step: job.step, error: null }
  if (job.tries < MOST_TRIES) return { state: 'waiting', step: 'its worker ended; starting again', error: null }
  const last = job.step ? `, last while ${job.step}` : ''
  const message = `“${job.label}”: its worker ended ${MOST_TRIES} times while it ran${last}. The worker’s log says why.`
  return {
    state: 'failed',
    step: job.step,
    error: { error: 'failed', message, about: [], kept: 'Nothing was stored.' }
  }
}

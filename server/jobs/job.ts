// What every job shares: it is read from its row, says how far it is, can be stopped, ends with a result or a reason.
// What a worker does counts only while the job is still its own: one that was taken for dead finds its job with
// another.
import { Refusal } from '@nullet/core/foundation/refusal'
import { assertDatabaseRoom, isNoRoom, NO_ROOM } from '../../host/room'
import type { Sql } from '../store/connect'
import { endJob, MOST_TRIES, readJob, reportJob, retryJob, startJob, TakenOver, type Job } from '../store/jobs'

export interface Running {
  sql: Sql
  job: Job
  /** By which the job knows whose it is: results are stored under it. */
  lock: number
  /** @param share 0 … 1 */
  report(share: number, step: string): void
  /** Asked to stop, or taken over by another worker. */
  stopped(): boolean
  /** Asks for room in the database, in bytes. @throws Refusal where it is not there */
  room(bytes: number): Promise<void>
}

/** A result that is stored by the work itself, in the transaction that completes it. */
export const STORED = Symbol('stored')

export class Stopped extends Error {}

const REPORT_MS = 200

/** @param jobs what this worker does right now: jobs are put in before they begin and taken out when they are over */
export function task(sql: Sql, lock: () => number, jobs: Set<string>, work: (running: Running) => Promise<unknown>) {
  return async (payload: unknown): Promise<void> => {
    const { id } = payload as { id: string }
    jobs.add(id)
    try {
      await carryOut(id, lock())
    } finally {
      jobs.delete(id)
    }
  }

  async function carryOut(id: string, mine: number): Promise<void> {
    const job = await startJob(sql, id, mine)
    if (!job) return
    let stop = false,
      lost = false,
      last = 0
    const running: Running = {
      sql,
      job,
      lock: mine,
      stopped: () => stop || lost,
      room: bytes => assertDatabaseRoom(`“${job.label}”`, bytes),
      report(share, step) {
        if (Date.now() - last < REPORT_MS) return
        last = Date.now()
        void reportJob(sql, id, mine, share, step).then(
          state => {
            stop ||= state === 'stopping'
            lost ||= state === null
          },
          () => {}
        )
      }
    }
    try {
      const result = await work(running)
      if (result !== STORED) await endJob(sql, id, mine, 'done', { result })
    } catch (error) {
      if (lost || error instanceof TakenOver) return
      const now = await readJob(sql, id)
      if (stop || error instanceof Stopped || now?.state === 'stopping') return endJob(sql, id, mine, 'stopped', {})
      if (error instanceof Refusal) return endJob(sql, id, mine, 'failed', { error: error.toJSON() })
      // Trying again makes no room.
      if (isNoRoom(error))
        return endJob(sql, id, mine, 'failed', {
          error: { error: 'noRoom', message: NO_ROOM, about: [], kept: 'Nothing of it was stored.' }
        })
      const { message } = error as Error
      if (job.tries < MOST_TRIES) {
        await retryJob(sql, id, mine, `it failed (${message}); trying again`)
        throw error
      }
      await endJob(sql, id, mine, 'failed', {
        error: {
          error: 'failed',
          message: `“${job.label}” failed ${MOST_TRIES} times: ${message}`,
          about: [],
          kept: 'Nothing was stored.'
        }
      })
    }
  }
}

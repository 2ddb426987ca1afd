// What every job shares: it is read from its row, says how far it is, can be stopped, ends with a result or a reason.
import type { JobHelpers } from 'graphile-worker'
import { Refusal } from '@nullet/core/refusal'
import type { Sql } from '../store/connect'
import { endJob, readJob, reportJob, startJob, type Job } from '../store/jobs'

export interface Running {
  sql: Sql
  job: Job
  /** @param share 0 … 1 */
  report(share: number, step: string): void
  stopped(): boolean
}

/** A result that is stored by the work itself, in the transaction that completes it. */
export const STORED = Symbol('stored')

export class Stopped extends Error {}

const REPORT_MS = 200

export function task(sql: Sql, lock: number, work: (running: Running) => Promise<unknown>) {
  return async (payload: unknown, helpers: JobHelpers): Promise<void> => {
    const { id } = payload as { id: string }
    const job = await startJob(sql, id, lock, helpers.job.locked_by)
    if (!job) return
    let stop = false, last = 0
    const running: Running = {
      sql, job, stopped: () => stop,
      report(share, step) {
        if (Date.now() - last < REPORT_MS) return
        last = Date.now()
        void reportJob(sql, id, share, step).then(asked => { stop ||= asked }, () => {})
      }
    }
    try {
      const result = await work(running)
      if (result !== STORED) await endJob(sql, id, 'done', { result })
    } catch (error) {
      const now = await readJob(sql, id)
      if (stop || error instanceof Stopped || now?.state === 'stopping') return endJob(sql, id, 'stopped', {})
      if (error instanceof Refusal) return endJob(sql, id, 'failed', { error: error.toJSON() })
      if (helpers.job.attempts < helpers.job.max_attempts) throw error
      await endJob(sql, id, 'failed', { error: { error: 'failed', message: `“${job.label}” failed: ${(error as Error).message}`, about: [], kept: 'Nothing was stored.' } })
      throw error
    }
  }
}

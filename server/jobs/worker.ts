// The worker process: takes jobs from the queue in PostgreSQL, one at a time. Any number may run, here or elsewhere.
import { randomInt } from 'node:crypto'
import { Logger, run } from 'graphile-worker'
import { connectStore, databaseUrl, outliveConnections, watch, within, type Sql } from '../store/connect'
import { tendJobs } from '../store/jobs'
import { collectGarbage } from '../store/media'
import { forgetRemoved } from '../store/removed'
import { sweepTemporary } from '../../host/temporary'
import { task } from './job'
import { ping } from './ping'
import { offsite } from './offsite'
import { runAgain } from './runAgain'
import { print } from './print'

sweepTemporary()
// Where a keeper started it, it ends with the keeper: its input closes.
if (process.env.NULLET_KEPT)
  process.stdin
    .on('close', () => process.exit(0))
    .on('end', () => process.exit(0))
    .resume()

outliveConnections()
const url = databaseUrl()
const sql = connectStore(url, 6)
watch(sql, url)

/**
 * A lock held on a connection of its own for as long as this process lives: that is how others see that it does. Where
 * the connection goes, another lock is taken: what ran under the old one may be somebody else's then, and cannot be
 * stored.
 */
class Life {
  lock = 0
  private line: Sql | null = null

  async take(): Promise<void> {
    for (;;) {
      try {
        const lock = randomInt(1, 2 ** 47)
        const line = connectStore(url, 1, () => {
          if (this.line === line) void this.again()
        })
        await within(
          5000,
          'taking a lock',
          line`select pg_advisory_lock(${lock})`.then(() => {})
        )
        this.line = line
        this.lock = lock
        return
      } catch (error) {
        console.error(`no lock yet: ${(error as Error).message}`)
        await new Promise(done => setTimeout(done, 500))
      }
    }
  }

  private async again(): Promise<void> {
    const old = this.line
    this.line = null
    await old?.end({ timeout: 0 }).catch(() => {})
    await this.take()
  }
}
const life = new Life()
await life.take()

const works = { print, ping, runAgain, offsite }
/** What this worker does right now. */
const jobs = new Set<string>()
const logger = new Logger(() => (level, message) => {
  if (level === 'error' || level === 'warning') console.error(message)
})
const taskList = Object.fromEntries(
  Object.entries(works).map(([name, work]) => [name, task(sql, () => life.lock, jobs, work)])
)
let ending = false
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.on(signal, () => {
    ending = true
  })

/**
 * Until this process is told to end. Where a connection goes just as the queue is told how a job went, its library
 * gives up; the jobs themselves know better how they stand, so another queue is begun.
 */
async function serveQueue(): Promise<void> {
  while (!ending) {
    try {
      const runner = await run({
        connectionString: url,
        concurrency: 1,
        pollInterval: 1000,
        noHandleSignals: false,
        logger,
        taskList
      })
      await runner.promise
    } catch (error) {
      console.error(`the queue is begun anew: ${(error as Error).message}`)
    }
    if (!ending) await new Promise(done => setTimeout(done, 500))
  }
}
const queue = serveQueue()
console.log(`worker ${process.pid} waits for jobs`)

const tend = async () => {
  try {
    await tendJobs(sql, { lock: life.lock, jobs })
  } catch (error) {
    console.error((error as Error).message)
  }
}
await tend()
setInterval(tend, 2000).unref()
setInterval(
  () =>
    void forgetRemoved(sql)
      .then(() => collectGarbage(sql))
      .catch(() => {}),
  3600_000
).unref()
await queue
process.exit(0)

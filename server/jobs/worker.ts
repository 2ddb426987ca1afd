// The worker process: takes jobs from the queue in PostgreSQL, one at a time. Any number may run, here or elsewhere.
import { randomInt } from 'node:crypto'
import { Logger, run } from 'graphile-worker'
import { connectStore, databaseUrl } from '../store/connect'
import { releaseDeadJobs } from '../store/jobs'
import { collectGarbage } from '../store/media'
import { task } from './job'
import { ping } from './ping'
import { print } from './print'

const url = databaseUrl()
const sql = connectStore(url, 6)
// Held on a connection of its own for as long as this process lives: that is how others see that it does.
// Without it this process must end: its jobs would be given to somebody else.
const life = connectStore(url, 1, () => process.exit(1))
const lock = randomInt(1, 2 ** 47)
await life`select pg_advisory_lock(${lock})`

const works = { print, ping }
const logger = new Logger(() => (level, message) => { if (level === 'error' || level === 'warning') console.error(message) })
const runner = await run({
  connectionString: url, concurrency: 1, pollInterval: 1000, noHandleSignals: false, logger,
  taskList: Object.fromEntries(Object.entries(works).map(([name, work]) => [name, task(sql, lock, work)]))
})
console.log(`worker ${process.pid} waits for jobs`)

const tend = async () => {
  try { await releaseDeadJobs(sql) } catch (error) { console.error((error as Error).message) }
}
await tend()
setInterval(tend, 2000).unref()
setInterval(() => void collectGarbage(sql).catch(() => {}), 3600_000).unref()
await runner.promise
process.exit(0)

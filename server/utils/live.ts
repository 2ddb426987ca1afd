// One listener on the database for all open pages. It hears itself: where it does not, it is deaf, and is made anew.
import { randomUUID } from 'node:crypto'
import { connectStore, store, within, type Sql } from '../store/connect'

export type Notice =
  | { kind: 'edit'; session: string; revision: number }
  | { kind: 'job'; session: string; job: string }
  /** Something may not have been heard: look at everything again. */
  | { kind: 'gap' }
type Hear = (notice: Notice) => void

const BEAT_MS = 2000,
  PATIENCE_MS = 3000

const hearers = new Set<Hear>()
let started = false

export function hear(callback: Hear): () => void {
  hearers.add(callback)
  if (!started) {
    started = true
    void keepListening()
  }
  return () => hearers.delete(callback)
}

const tell = (notice: Notice) => hearers.forEach(h => h(notice))

async function keepListening(): Promise<never> {
  for (let first = true; ; first = false) {
    const line = connectStore(undefined, 1)
    try {
      const beats = await within(PATIENCE_MS, 'listening', listen(line))
      if (!first) tell({ kind: 'gap' })
      for (;;) {
        await new Promise(done => setTimeout(done, BEAT_MS))
        await within(PATIENCE_MS, 'hearing itself', beats())
      }
    } catch (error) {
      console.error(`listening: ${(error as Error).message}; listening anew`)
    }
    await within(PATIENCE_MS, 'ending a line', line.end({ timeout: 0 })).catch(() => {})
    await new Promise(done => setTimeout(done, BEAT_MS / 4))
  }
}

/** @returns says something over the database and resolves when it has been heard */
async function listen(line: Sql): Promise<() => Promise<void>> {
  const own = `nullet_beat_${randomUUID().replaceAll('-', '')}`
  let heard = () => {},
    listens = 0
  // The driver listens again by itself where it can: what was said in between was not heard.
  const onlisten = () => {
    if (listens++) tell({ kind: 'gap' })
  }
  await line.listen(
    'nullet_edit',
    text => tell({ kind: 'edit', ...(JSON.parse(text) as { session: string; revision: number }) }),
    onlisten
  )
  await line.listen('nullet_job', async id => {
    const [job] = await store()<{ sessionId: string }[]>`select session_id from job where id = ${id}`.catch(() => [])
    if (job) tell({ kind: 'job', session: job.sessionId, job: id })
  })
  await line.listen(own, () => heard())
  return async () => {
    const back = new Promise<void>(done => {
      heard = done
    })
    await store()`select pg_notify(${own}, '')`
    await back
  }
}

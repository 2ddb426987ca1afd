// One listener on the database for all open pages.
import { store } from '../store/connect'

export interface Notice { session: string, kind: 'edit' | 'job', revision?: number, job?: string }
type Hear = (notice: Notice) => void

const hearers = new Set<Hear>()
let listening: Promise<unknown> | undefined

export function hear(callback: Hear): () => void {
  hearers.add(callback)
  listening ??= listen().catch(error => { listening = undefined; console.error((error as Error).message) })
  return () => hearers.delete(callback)
}

async function listen(): Promise<void> {
  const sql = store()
  const tell = (notice: Notice) => hearers.forEach(h => h(notice))
  await sql.listen('nullet_edit', text => tell({ kind: 'edit', ...JSON.parse(text) as { session: string, revision: number } }))
  await sql.listen('nullet_job', async id => {
    const [job] = await sql<{ sessionId: string }[]>`select session_id from job where id = ${id}`.catch(() => [])
    if (job) tell({ kind: 'job', session: job.sessionId, job: id })
  })
}

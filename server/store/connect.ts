// The connection pool. The address comes from the environment, or from the file that `nullet` wrote for its cluster.
import { readFileSync } from 'node:fs'
import { connect } from 'node:net'
import { join } from 'node:path'
import postgres from 'postgres'

export type Sql = postgres.Sql<{ bigint: number }>
export type Transaction = postgres.TransactionSql<{ bigint: number }>

export function databaseUrl(): string {
  if (process.env.NULLET_DATABASE) return process.env.NULLET_DATABASE
  const file = join(process.env.NULLET_STATE ?? join(process.cwd(), '.nullet'), 'database-url')
  return readFileSync(file, 'utf8').trim()
}

/** @param onclose called whenever a connection ends */
export function connectStore(url = databaseUrl(), max = 8, onclose?: () => void): Sql {
  const { hostname, port } = new URL(url)
  return postgres(url, {
    max, onnotice: () => {}, onclose,
    // Everything is asked for by its keys. The checks of foreign keys keep the plan of their first time, when a table may have
    // been all but empty: read whole for each row that goes, ten thousand rows took eight seconds.
    connection: { enable_seqscan: 'off' as unknown as boolean },
    // After an outage the database is asked again soon, not after a growing pause. Seconds.
    backoff: () => 0.3,
    // Column names only: keys inside JSON are ids and must stay as they are.
    transform: { column: { from: postgres.toCamel, to: postgres.fromCamel }, undefined: null },
    types: { bigint: { to: 20, from: [20], parse: Number, serialize: String } },
    // Without this, small COPYs wait for the network's own buffering.
    socket: () => new Promise((done, fail) => {
      const socket = connect({ host: hostname, port: Number(port), noDelay: true })
      socket.once('connect', () => { socket.off('error', fail); done(socket) })
      socket.once('error', fail)
    })
  } as postgres.Options<{ bigint: postgres.PostgresType<number> }>) as unknown as Sql
}

const ALIVE_MS = 2000

/** Asks whether the database answers, and does not wait long. A query itself would wait for it to come back. */
export async function assertAlive(sql: Sql): Promise<void> {
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<never>((_, fail) => { timer = setTimeout(() => fail(Object.assign(new Error('the database does not answer'), { code: 'CONNECT_TIMEOUT' })), ALIVE_MS) })
  try { await Promise.race([sql`select 1`, late]) } finally { clearTimeout(timer) }
}

let shared: Sql | undefined
/** One pool a process. */
export const store = (): Sql => shared ??= connectStore()

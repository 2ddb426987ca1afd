// The connection pool. The address comes from the environment, or from the file that `nullet` wrote for its cluster.
// What is handed out stands for a pool, and for the next one when that has lost a connection: whoever holds it goes on.
import { readFileSync } from 'node:fs'
import { connect } from 'node:net'
import postgres from 'postgres'
import { inState } from '../../host/stateFolder'

export type Sql = postgres.Sql<{ bigint: number }>
export type Transaction = postgres.TransactionSql<{ bigint: number }>

export function databaseUrl(): string {
  if (process.env.NULLET_DATABASE) return process.env.NULLET_DATABASE
  return readFileSync(inState('database-url'), 'utf8').trim()
}

/** Seconds that work under way gets in a pool that has been replaced. */
const FINISH_S = 10
const CONNECT_S = 5

/** One pool of the driver's. A connection that was lost is not to be used again there: it may never write. */
function openPool(url: string, max: number, onconnect: () => void, onclose: () => void): Sql {
  const { hostname, port } = new URL(url)
  return postgres(url, {
    max,
    onnotice: () => {},
    onclose,
    // A connection lasts as long as its work: by default it would end after half an hour, which is no loss.
    max_lifetime: null,
    connect_timeout: CONNECT_S,
    // Everything is asked for by its keys. The checks of foreign keys keep the plan of their first time, when a table
    // may have been all but empty: read whole for each row that goes, ten thousand rows took eight seconds.
    connection: { enable_seqscan: 'off' as unknown as boolean },
    // After an outage the database is asked again soon, not after a growing pause. Seconds.
    backoff: () => 0.3,
    // Column names only: keys inside JSON are ids and must stay as they are.
    transform: { column: { from: postgres.toCamel, to: postgres.fromCamel }, undefined: null },
    types: { bigint: { to: 20, from: [20], parse: Number, serialize: String } },
    // As the driver would connect by itself, but that small COPYs do not wait for the network's own buffering. It is
    // handed over while it still connects: one that fails before the driver has its socket is never used again.
    socket: () => {
      const socket = connect({
        host: hostname,
        port: Number(port),
        noDelay: true,
        keepAlive: true,
        keepAliveInitialDelay: 5000
      })
      return socket.on('error', () => {}).once('connect', onconnect)
    }
  } as unknown as postgres.Options<{ bigint: postgres.PostgresType<number> }>) as unknown as Sql
}

const RENEW = Symbol('renew')

/** @param onclose called whenever a connection ends that was not meant to */
export function connectStore(url = databaseUrl(), max = 8, onclose?: () => void): Sql {
  let ended = false
  const begin = (): Sql => {
    // What could never be reached has nothing that could be lost.
    let reached = false
    const mine: Sql = openPool(
      url,
      max,
      () => {
        reached = true
      },
      () => {
        if (reached) lost(mine)
      }
    )
    return mine
  }
  let current = begin()

  function lost(pool: Sql): void {
    if (ended || pool !== current) return
    renew(FINISH_S)
    onclose?.()
  }
  function renew(seconds: number): void {
    const old = current
    current = begin()
    void old.end({ timeout: seconds }).catch(() => {})
  }

  return new Proxy((() => {}) as unknown as Sql, {
    apply: (_, __, args: unknown[]) => Reflect.apply(current as never, undefined, args),
    has: (_, key) => key in current,
    get: (_, key) => {
      if (key === RENEW) return renew
      if (key === 'end')
        return (options?: { timeout?: number }) => {
          ended = true
          return current.end(options)
        }
      const value = Reflect.get(current, key) as unknown
      return typeof value === 'function' ? value.bind(current) : value
    }
  })
}

/** Gives up whatever hangs: everything under way in the pool has a second, what comes next finds a new one. */
export const renewPool = (sql: Sql): void => (sql as unknown as { [RENEW]?: (seconds: number) => void })[RENEW]?.(1)

/** Marks an error as the database's not answering, as the driver does. */
const late = (what: string) =>
  Object.assign(new Error(`${what}: the database does not answer`), { code: 'CONNECT_TIMEOUT' })

/**
 * Waits no longer than that. What is waited for goes on by itself. @throws an error with the code of a connection that
 * timed out
 */
export async function within<T>(ms: number, what: string, wait: Promise<T>): Promise<T> {
  let timer: NodeJS.Timeout | undefined
  const over = new Promise<never>((_, fail) => {
    timer = setTimeout(() => fail(late(what)), ms)
  })
  wait.catch(() => {})
  try {
    return await Promise.race([wait, over])
  } finally {
    clearTimeout(timer)
  }
}

const ALIVE_MS = 2000

/** Asks whether the database answers, and does not wait long. A query itself would wait for it to come back. */
export const assertAlive = (sql: Sql): Promise<unknown> =>
  within(
    ALIVE_MS,
    'a question',
    sql`select 1`.then(() => {})
  )

/** How drivers fail where a connection went while they were about to write, or between two questions. */
const LOST = /nextWrite|ErrorResponse|CONNECTION_|Connection terminated/

/** Whoever reads what this process writes may be gone: to say so would be written there again, for ever. */
export function outliveReaders(): void {
  for (const stream of [process.stdout, process.stderr]) stream.on('error', () => {})
}

/**
 * A process that lives longer than its connections: what the driver throws into the void when one goes ends nothing.
 */
export function outliveConnections(): void {
  const heard = (error: unknown) => {
    const { stack = '', code = '' } = error as { stack?: string; code?: string }
    console.error(stack || error)
    if (!LOST.test(stack) && !/^(57P0|08|ECONN|EPIPE)/.test(code)) process.exit(1)
  }
  outliveReaders()
  process.on('uncaughtException', heard)
  process.on('unhandledRejection', heard)
}

let shared: Sql | undefined
/** One pool a process, looked after. */
export function store(): Sql {
  if (!shared) {
    shared = connectStore()
    watch(shared)
  }
  return shared
}

const BEAT_MS = 2000,
  SILENT_MS = 6000

/** Looks after a pool: where the database does not answer on a line of its own, what hangs on the pool is given up. */
export function watch(sql: Sql, url?: string): void {
  const line = connectStore(url, 1)
  let asking = false
  setInterval(() => {
    if (asking) return
    asking = true
    void within(
      SILENT_MS,
      'a heartbeat',
      line`select 1`.then(() => {})
    )
      .catch(() => {
        renewPool(line)
        renewPool(sql)
      })
      .finally(() => {
        asking = false
      })
  }, BEAT_MS).unref()
}

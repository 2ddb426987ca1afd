// The whole product on a stage of its own: a database in our cluster, a worker, the built server, for tests and bench.
import { spawn, type ChildProcess } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import postgres from 'postgres'
import { connectStore } from '../../server/store/connect'
import { migrate } from '../../server/store/migrate'
import { loadDemo, loadFullDome } from '../../demo/load'

/** Tests and bench are started at the project's root. */
export const root = process.cwd()

export interface Stage {
  url: string
  database: string
}

const stateFile = (name: string) =>
  readFileSync(join(process.env.NULLET_STATE ?? join(root, '.nullet'), name), 'utf8').trim()
const clusterUrl = () => stateFile('cluster-url')

export const freePort = () =>
  new Promise<number>(done => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number }
      server.close(() => done(port))
    })
  })

/** A database that did not exist before, owned by the application's role as in life, and migrated. */
export async function makeDatabase(
  name = `nullet_${process.pid}_${Date.now().toString(36)}`,
  migrations = join(root, 'server/store/migrations')
): Promise<string> {
  const url = new URL(stateFile('database-url')),
    sql = postgres(clusterUrl(), { max: 1, onnotice: () => {} })
  await sql`create database ${sql(name)} owner ${sql(url.username)}`
  await sql.end()
  url.pathname = `/${name}`
  await migrate(url.href, migrations)
  return url.href
}

export async function dropDatabase(url: string): Promise<void> {
  const sql = postgres(clusterUrl(), { max: 1, onnotice: () => {} })
  const name = new URL(url).pathname.slice(1)
  await sql`drop database if exists ${sql(name)} with (force)`
  await sql.end()
}

export function startWorker(database: string): ChildProcess {
  return spawn(process.execPath, [join(root, 'build/worker.mjs')], {
    cwd: root,
    env: { ...process.env, NULLET_DATABASE: database },
    stdio: ['ignore', 'ignore', 'inherit']
  })
}

/** @param wait until it answers well */
export async function startServer(database: string, port: number, wait = true): Promise<ChildProcess> {
  const child = spawn(process.execPath, [join(root, '.output/server/index.mjs')], {
    cwd: root,
    env: {
      ...process.env,
      NULLET_DATABASE: database,
      HOST: '127.0.0.1',
      PORT: String(port),
      NITRO_HOST: '127.0.0.1',
      NITRO_PORT: String(port),
      NODE_ENV: 'production'
    },
    stdio: ['ignore', 'ignore', 'inherit']
  })
  for (let i = 0; wait; i++) {
    const ok = await fetch(`http://127.0.0.1:${port}/api/health`).then(
      r => r.ok,
      () => false
    )
    if (ok) return child
    if (i > 300) throw new Error('the server did not answer')
    await new Promise(done => setTimeout(done, 50))
  }
  return child
}

export const ended = (child: ChildProcess) =>
  new Promise<void>(done => {
    if (child.exitCode !== null || child.signalCode !== null) done()
    else child.once('exit', () => done())
  })

export async function stopProcess(child: ChildProcess, signal: NodeJS.Signals = 'SIGTERM'): Promise<void> {
  child.kill(signal)
  await ended(child)
}

/**
 * Database, worker, server.
 * @param demoSeconds of the demonstration; without it there is no session
 */
export async function raise(
  demoSeconds?: number
): Promise<Stage & { fall(): Promise<void>; worker: ChildProcess; server: ChildProcess }> {
  const database = await makeDatabase()
  if (demoSeconds) {
    const sql = connectStore(database, 4)
    await loadDemo(sql, demoSeconds)
    await loadFullDome(sql)
    await sql.end()
  }
  const port = await freePort()
  const worker = startWorker(database)
  const server = await startServer(database, port)
  return {
    url: `http://127.0.0.1:${port}`,
    database,
    worker,
    server,
    async fall() {
      await Promise.all([stopProcess(server), stopProcess(worker)])
      await dropDatabase(database)
    }
  }
}

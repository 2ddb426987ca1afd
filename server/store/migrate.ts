// Brings the database to this version's shape: numbered files, each once, in one transaction each. What rows must become
// before a file can hold is done by code in the same transaction.
import { createHash } from 'node:crypto'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { runMigrations } from 'graphile-worker'
import { connectStore, databaseUrl, type Transaction } from './connect'
import { mendSessions } from './mend'

/** Done just before a file runs; says what was changed. */
const BEFORE: Record<string, (t: Transaction) => Promise<string[]>> = { '007-rules.sql': mendSessions }

/** Makes the database itself if the cluster does not have it yet. */
async function createDatabase(url: string): Promise<void> {
  const name = new URL(url).pathname.slice(1)
  const above = new URL(url)
  above.pathname = '/postgres'
  const sql = connectStore(above.href, 1)
  try {
    const there = await sql`select 1 from pg_database where datname = ${name}`
    if (!there.length) await sql`create database ${sql(name)}`
  } finally { await sql.end() }
}

export async function migrate(url = databaseUrl(), folder = join(process.cwd(), 'server/store/migrations')): Promise<string[]> {
  await createDatabase(url)
  const sql = connectStore(url, 1)
  const done: string[] = []
  try {
    await sql`create table if not exists migration (name text primary key, sha256 text not null, run_at timestamptz not null default now())`
    const known = new Map((await sql<{ name: string, sha256: string }[]>`select name, sha256 from migration`).map(m => [m.name, m.sha256]))
    for (const name of readdirSync(folder).filter(f => f.endsWith('.sql')).sort()) {
      const text = readFileSync(join(folder, name), 'utf8')
      const hash = createHash('sha256').update(text).digest('hex')
      if (known.get(name) === hash) continue
      if (known.has(name)) throw new Error(`${name} was changed after it ran on this database`)
      await sql.begin(async t => {
        done.push(name, ...await BEFORE[name]?.(t) ?? [])
        await t.unsafe(text)
        await t`insert into migration (name, sha256) values (${name}, ${hash})`
      })
    }
  } finally { await sql.end() }
  await runMigrations({ connectionString: url })
  return done
}

if (process.argv[1]?.endsWith('migrate.mjs')) {
  const done = await migrate()
  if (done.length) console.log(`database: ${done.join('\ndatabase: ')}`)
}

// Brings the database to this version's shape: numbered files, each once, in one transaction each. What rows must
// become before a file can hold is done by code in the same transaction.
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { runMigrations } from 'graphile-worker'
import { connectStore, databaseUrl, type Transaction } from './connect'
import { mendSessions } from './mend'

/** Done just before a file runs; says what was changed. */
const BEFORE: Record<string, (t: Transaction) => Promise<string[]>> = { '007-rules.sql': mendSessions }

/**
 * A file that was altered after it had run somewhere: `formerly/NAME.HASH.sql` is what it said, `….then.sql` brings a
 * database of then to where the file would have brought it.
 */
const sinceThen = (folder: string, name: string, hash: string) =>
  join(folder, 'formerly', `${name.replace(/\.sql$/, '')}.${hash.slice(0, 12)}.then.sql`)

export async function migrate(
  url = databaseUrl(),
  folder = join(process.cwd(), 'server/store/migrations')
): Promise<string[]> {
  const sql = connectStore(url, 1)
  const done: string[] = []
  try {
    await sql`create table if not exists migration (name text primary key, sha256 text not null, run_at timestamptz not null default now())`
    const known = new Map(
      (await sql<{ name: string; sha256: string }[]>`select name, sha256 from migration`).map(m => [m.name, m.sha256])
    )
    for (const name of readdirSync(folder)
      .filter(f => f.endsWith('.sql'))
      .sort()) {
      const text = readFileSync(join(folder, name), 'utf8')
      const hash = createHash('sha256').update(text).digest('hex')
      const ran = known.get(name)
      if (ran === hash) continue
      const then = ran && sinceThen(folder, name, ran)
      if (then && !existsSync(then))
        throw new Error(`${name} was changed after it ran on this database (${ran.slice(0, 12)})`)
      await sql.begin(async t => {
        if (then) done.push(`${name}, what came into it since`)
        else done.push(name, ...((await BEFORE[name]?.(t)) ?? []))
        await t.unsafe(then ? readFileSync(then, 'utf8') : text)
        await t`insert into migration (name, sha256) values (${name}, ${hash}) on conflict (name) do update
          set sha256 = excluded.sha256`
      })
    }
  } finally {
    await sql.end()
  }
  await runMigrations({ connectionString: url })
  return done
}

if (process.argv[1]?.endsWith('migrate.mjs')) {
  const done = await migrate()
  if (done.length) console.log(`database: ${done.join('\ndatabase: ')}`)
}

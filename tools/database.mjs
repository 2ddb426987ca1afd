// Our own PostgreSQL cluster on loopback: made once, started, stopped. `node tools/database.mjs start|stop|status`
import { spawnSync } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { chmodSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { forget, freePort, isFree, pause, read, rootHash, state, write } from './state.mjs'

const asRoot = process.getuid() === 0
/** The role and the database of the application. */
const APPLICATION = 'nullet_app',
  DATABASE = 'nullet'

export function serverPrograms() {
  const base = '/usr/lib/postgresql'
  const versions = existsSync(base)
    ? readdirSync(base)
        .map(Number)
        .filter(v => existsSync(join(base, `${v}`, 'bin/initdb')))
        .sort((a, b) => b - a)
    : []
  return versions.length ? join(base, `${versions.find(v => v === 15) ?? versions[0]}`, 'bin') : null
}

/** PostgreSQL refuses to run as root: then it runs as the user its Debian package made. */
function run(program, args, options = {}) {
  const path = join(serverPrograms(), program)
  const [command, all] = asRoot ? ['runuser', ['-u', 'postgres', '--', path, ...args]] : [path, args]
  return spawnSync(command, all, { cwd: '/', encoding: 'utf8', ...options })
}

const newPassword = () => randomBytes(18).toString('base64url')

/** Statements as the cluster's own role, on loopback. */
function psql(database, text) {
  const { port, password } = new URL(read('cluster-url'))
  must(
    spawnSync(
      join(serverPrograms(), 'psql'),
      ['-qXAt', '-v', 'ON_ERROR_STOP=1', '-h', '127.0.0.1', '-p', port, '-U', 'nullet', '-d', database],
      { input: text, encoding: 'utf8', env: { ...process.env, PGPASSWORD: password } }
    ),
    `preparing the database “${database}”`
  )
}

const must = (result, what) => {
  if (result.status === 0) return result
  console.error(`nullet: ${what} failed.\n${result.stderr || result.stdout || result.error}`)
  process.exit(1)
}

/** Can the user postgres reach a folder? Every folder above must let others through. */
function reachable(folder) {
  for (let at = folder; ; at = dirname(at)) {
    if (existsSync(at) && !(statSync(at).mode & 0o001)) return false
    if (at === '/') return true
  }
}

const clusterFolder = () =>
  asRoot && !reachable(state) ? join('/var/tmp', `nullet-${rootHash()}`) : join(state, 'cluster')

async function create(folder) {
  const password = newPassword()
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true })
  const passwordFile = join(dirname(folder), `nullet-password-${process.pid}`)
  writeFileSync(passwordFile, `${password}\n`, { mode: 0o600 })
  if (asRoot)
    must(
      spawnSync('chown', ['postgres:', folder, passwordFile], { encoding: 'utf8' }),
      'giving the data folder to the user postgres'
    )
  chmodSync(folder, 0o700)
  try {
    must(
      run('initdb', [
        '-D',
        folder,
        '-U',
        'nullet',
        '-E',
        'UTF8',
        '--locale=C.UTF-8',
        '--auth=scram-sha-256',
        `--pwfile=${passwordFile}`,
        '--no-sync'
      ]),
      'making the database cluster'
    )
  } finally {
    rmSync(passwordFile, { force: true })
  }
  write('cluster-folder', folder, 0o600)
  write('database-password', password, 0o600)
}

/**
 * Does our cluster run? Its file of the process id may be left from before and name another process by now: what counts
 * is that the process was started on this folder.
 */
function running(folder) {
  const file = join(folder, 'postmaster.pid')
  const pid = existsSync(file) ? Number(readFileSync(file, 'utf8').split('\n')[0]) : 0
  if (!(pid > 1)) return false
  const command = existsSync(`/proc/${pid}/cmdline`) ? readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0') : []
  if (command.some(part => part.includes('postgres')) && command.includes(folder)) return true
  // Nobody's: the next start must not take it for a cluster that runs.
  rmSync(file, { force: true })
  return false
}

export async function startDatabase() {
  const folder = read('cluster-folder') ?? clusterFolder()
  if (!read('database-password') || !existsSync(folder)) await create(folder)
  if (!running(folder)) {
    const last = read('database-port')
    const port = last && (await isFree(Number(last))) ? last : await freePort(55433)
    const options = `-c listen_addresses=127.0.0.1 -c port=${port} -c unix_socket_directories='' -c max_wal_size=4GB -c shared_buffers=256MB`
    for (let tries = 0; ; tries++) {
      const started = run(
        'pg_ctl',
        ['start', '-w', '-t', '60', '-D', folder, '-l', join(folder, 'server.log'), '-o', options],
        { stdio: 'ignore' }
      )
      if (started.status === 0) break
      // Right after a crash the old server may still hold its files.
      if (tries === 8) must({ ...started, stderr: `See ${join(folder, 'server.log')}` }, 'starting the database')
      await pause(500)
    }
    write('database-port', port)
  }
  const at = `127.0.0.1:${read('database-port')}`
  if (!read('application-password')) write('application-password', newPassword(), 0o600)
  write('cluster-url', `postgres://nullet:${read('database-password')}@${at}/postgres`, 0o600)
  handOver()
  write('database-url', `postgres://${APPLICATION}:${read('application-password')}@${at}/${DATABASE}`, 0o600)
}

/**
 * The application's role owns its database and nothing else. A database of before, owned by the cluster's own role, is
 * handed over.
 */
function handOver() {
  psql(
    'postgres',
    `
    do $$ begin if not exists (select from pg_roles
    where rolname = '${APPLICATION}') then create role ${APPLICATION}; end if; end $$;
    alter role ${APPLICATION} login nosuperuser nocreatedb nocreaterole password '${read('application-password')}';
    select 'create database ${DATABASE} owner ${APPLICATION}' where not exists (select from pg_database
    where datname = '${DATABASE}') \\gexec
    alter database ${DATABASE} owner to ${APPLICATION};`
  )
  // What belongs to a table or an extension goes with it.
  psql(
    DATABASE,
    `
    select format('alter %s %s owner to ${APPLICATION}', kind, name) from (
      select 1 as rank, 'schema' as kind, quote_ident(nspname) as name, nspowner as owner from pg_namespace
      where nspname !~ '^pg_|^information_schema$|^public$'
      union all select 2, case relkind when 'S' then 'sequence' when 'v' then 'view'
      else 'table' end, oid::regclass::text, relowner from pg_class c
        where relkind in ('r', 'p', 'S', 'v') and relnamespace::regnamespace::text !~ '^pg_|^information_schema$'
        and not exists (select from pg_depend where classid = 'pg_class'::regclass and objid = c.oid
        and deptype in ('a', 'i', 'e'))
      union all select 3, 'routine', oid::regprocedure::text, proowner from pg_proc
      where pronamespace::regnamespace::text !~ '^pg_|^information_schema$'
      union all select 4, 'type', t.oid::regtype::text, typowner from pg_type t left join pg_class c on c.oid = typrelid
        where typnamespace::regnamespace::text !~ '^pg_|^information_schema$' and typelem = 0
        and coalesce(c.relkind, 'c') = 'c'
    ) things where owner = 'nullet'::regrole order by rank \\gexec`
  )
}

export function stopDatabase() {
  const folder = read('cluster-folder')
  if (folder && serverPrograms() && running(folder)) run('pg_ctl', ['stop', '-m', 'fast', '-w', '-D', folder])
}

export function removeDatabase() {
  stopDatabase()
  const folder = read('cluster-folder')
  if (folder) rmSync(folder, { recursive: true, force: true })
  for (const name of [
    'cluster-folder',
    'database-password',
    'application-password',
    'database-port',
    'cluster-url',
    'database-url'
  ])
    forget(name)
}

if (process.argv[1]?.endsWith('database.mjs')) {
  if (process.argv[2] === 'start') await startDatabase()
  else if (process.argv[2] === 'stop') stopDatabase()
  else if (process.argv[2] === 'remove') removeDatabase()
}

// The keeper: database, server and one worker run, and come back when they end or no longer answer. There is one a
// folder; it ends with all it started when it is told to. Children end by themselves where it is killed: their input
// closes.
import { spawn } from 'node:child_process'
import { createWriteStream } from 'node:fs'
import { createServer } from 'node:http'
import { connect } from 'node:net'
import { join } from 'node:path'
import { askKeeper, findKeeper, keeperPorts, proof } from './keeper.mjs'
import { forget, read, root, state, write } from './state.mjs'

const port = Number(process.env.NULLET_PORT)
const stamp = process.env.NULLET_STAMP ?? ''
const address = `http://127.0.0.1:${port}/`
const LOOK_MS = 2000
/** So often in a row the server may leave a look unanswered before it is begun anew. */
const SILENT_LOOKS = 5
const STARTING_MS = 20_000

/** The last things that ended or hung, newest last: the server tells pages of them, and so does `doctor`. */
const MOST_TOLD = 20
function tell(what, said) {
  const before = JSON.parse(read('happened') ?? '[]')
  write('happened', JSON.stringify([...before, { at: new Date().toISOString(), what, said }].slice(-MOST_TOLD)))
  states[what] = said
}

let ending = false
const children = new Map()
/** How each one is, as a sentence. */
const states = { database: 'not looked at yet', server: 'starting', worker: 'starting' }

function keep(name, args, env = {}) {
  const log = createWriteStream(join(state, `${name}.log`), { flags: 'a' })
  const began = Date.now()
  const child = spawn(process.execPath, args, {
    cwd: root,
    env: { ...process.env, ...env, NULLET_KEPT: '1' },
    stdio: ['pipe', 'pipe', 'pipe']
  })
  child.stdin.on('error', () => {})
  child.stdout.pipe(log)
  child.stderr.pipe(log)
  children.set(name, { child, began })
  child.once('exit', (code, signal) => {
    if (ending) return
    tell(name, `ended (${signal ?? code}) and was started again`)
    setTimeout(
      () => {
        if (!ending) keep(name, args, env)
      },
      Date.now() - began < 5000 ? 2000 : 100
    )
  })
  if (name === 'worker') states.worker = 'running'
}

const answers = () =>
  fetch(`${address}api/health`, { signal: AbortSignal.timeout(LOOK_MS) }).then(
    r => r.status,
    () => 0
  )
const reached = to =>
  new Promise(done => {
    const socket = connect({ host: '127.0.0.1', port: Number(to), timeout: 1000 })
    socket.once('connect', () => {
      socket.destroy()
      done(true)
    })
    for (const event of ['error', 'timeout'])
      socket.once(event, () => {
        socket.destroy()
        done(false)
      })
  })

const startDatabase = () =>
  new Promise(done => {
    const child = spawn(process.execPath, [join(root, 'tools/database.mjs'), 'start'], { cwd: root, stdio: 'ignore' })
    child.once('exit', code => done(code === 0))
  })

let silent = 0
async function look() {
  const there = await reached(read('database-port'))
  if (there) states.database = 'running'
  else {
    if (states.database === 'running') tell('database', 'did not answer and was started again')
    if (!(await startDatabase())) states.database = `cannot be started; see ${read('cluster-folder')}/server.log`
  }
  const status = await answers(),
    { child, began } = children.get('server')
  if (status === 200) {
    silent = 0
    states.server = 'running'
  } else if (status) states.server = `answers ${status}`
  // A server that says that the database is away is well. One that says nothing hangs.
  else if (Date.now() - began > STARTING_MS && ++silent >= SILENT_LOOKS) {
    silent = 0
    tell('server', 'did not answer and was started again')
    child.kill('SIGKILL')
  }
}
async function watch() {
  while (!ending) {
    await look().catch(error => console.error(error.message))
    await new Promise(done => setTimeout(done, LOOK_MS))
  }
}

async function end() {
  if (ending) return
  ending = true
  await Promise.all(
    [...children.values()].map(
      ({ child }) =>
        new Promise(done => {
          if (child.exitCode !== null || child.signalCode) return done()
          child.once('exit', done)
          child.kill('SIGTERM')
          setTimeout(() => child.kill('SIGKILL'), 8000).unref()
        })
    )
  )
  forget('address')
  process.exit(0)
}

const control = createServer((req, res) => {
  const word = String(req.headers['x-word'] ?? '')
  if (req.headers['x-proof'] !== proof(`${word} asks`)) {
    res.statusCode = 403
    return res.end('{}')
  }
  res.setHeader('content-type', 'application/json')
  res.end(JSON.stringify({ proof: proof(word), address, stamp, states }))
  if (req.url === '/stop') void end()
})

/** The first of our ports that is free. Where our own keeper answers on one, this one is not needed. */
async function takePort() {
  for (const at of keeperPorts()) {
    const taken = await new Promise(done => {
      control.once('error', () => done(false))
      control.listen(at, '127.0.0.1', () => done(true))
    })
    if (taken) return
    control.removeAllListeners('error')
    if (await askKeeper(at, '/status')) {
      console.log('a keeper is there already')
      process.exit(0)
    }
  }
  console.error('no port is free for the keeper')
  process.exit(1)
}

process.on('SIGTERM', end)
process.on('SIGINT', end)
if (await findKeeper()) {
  console.log('a keeper is there already')
  process.exit(0)
}
await takePort()
write('address', address)
keep('worker', [join(root, 'build/worker.mjs')])
keep('server', [join(root, '.output/server/index.mjs')], {
  HOST: '127.0.0.1',
  PORT: String(port),
  NITRO_HOST: '127.0.0.1',
  NITRO_PORT: String(port),
  NODE_ENV: 'production'
})
void watch()

// Keeps the server and one worker running: starts again what ends by itself. Ends both when it is told to.
import { spawn } from 'node:child_process'
import { createWriteStream } from 'node:fs'
import { join } from 'node:path'
import { forget, root, state, write } from './state.mjs'

const port = process.env.NULLET_PORT
const children = new Map()
let ending = false

function keep(name, args, env = {}) {
  const log = createWriteStream(join(state, `${name}.log`), { flags: 'a' })
  const began = Date.now()
  const child = spawn(process.execPath, args, { cwd: root, env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'pipe'] })
  child.stdout.pipe(log)
  child.stderr.pipe(log)
  children.set(name, child)
  write(`${name}.pid`, child.pid)
  child.once('exit', () => {
    if (ending) return
    setTimeout(() => keep(name, args, env), Date.now() - began < 5000 ? 2000 : 100)
  })
}

async function end() {
  if (ending) return
  ending = true
  await Promise.all([...children.values()].map(child => new Promise(done => {
    if (child.exitCode !== null || child.signalCode) return done()
    child.once('exit', done)
    child.kill('SIGTERM')
    setTimeout(() => child.kill('SIGKILL'), 8000).unref()
  })))
  for (const name of ['server.pid', 'worker.pid', 'serve.pid', 'address']) forget(name)
  process.exit(0)
}

process.on('SIGTERM', end)
process.on('SIGINT', end)
write('serve.pid', process.pid)
keep('worker', [join(root, 'build/worker.mjs')])
keep('server', [join(root, '.output/server/index.mjs')], { HOST: '127.0.0.1', PORT: port, NITRO_HOST: '127.0.0.1', NITRO_PORT: port, NODE_ENV: 'production' })

// Where this checkout keeps what it runs with: database, process ids, logs. No packages are needed here.
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = dirname(dirname(fileURLToPath(import.meta.url)))
export const state = process.env.NULLET_STATE ?? join(root, '.nullet')
try {
  mkdirSync(state, { recursive: true })
} catch (error) {
  console.error(`nullet: ${state} cannot be made (${error.code}). Set NULLET_STATE to a folder of your own.`)
  process.exit(1)
}

export const read = name => (existsSync(join(state, name)) ? readFileSync(join(state, name), 'utf8').trim() : null)
/** Whole or not at all, for whoever reads it meanwhile. */
export const write = (name, text, mode = 0o644) => {
  writeFileSync(join(state, `${name}.new`), `${text}\n`, { mode })
  renameSync(join(state, `${name}.new`), join(state, name))
}
export const forget = name => rmSync(join(state, name), { force: true })
export const rootHash = () => createHash('sha256').update(state).digest('hex').slice(0, 12)

export const isFree = port =>
  new Promise(done => {
    const server = createServer()
      .once('error', () => done(false))
      .listen(port, '127.0.0.1', () => server.close(() => done(true)))
  })

export async function freePort(from) {
  for (let port = from; port < 65536; port++) if (await isFree(port)) return port
  throw new Error(`no port is free from ${from} on`)
}

export const pause = ms => new Promise(done => setTimeout(done, ms))

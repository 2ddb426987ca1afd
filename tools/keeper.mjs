// Asking the keeper of this checkout: is it there, how is it, end. It is known by what it answers, never by a process
// id: it listens on one of a few ports that follow from the folder, and proves that it has the folder's token.
import { createHash, randomBytes } from 'node:crypto'
import { readFileSync, writeFileSync } from 'node:fs'
import { request } from 'node:http'
import { join } from 'node:path'
import { rootHash, state } from './state.mjs'

const TRIED = 12,
  PATIENCE_MS = 1500

/** Ports on which the keeper may be, in order. */
export const keeperPorts = () =>
  Array.from({ length: TRIED }, (_, i) => 21000 + ((parseInt(rootHash().slice(0, 6), 16) + i * 7) % 20000))

/** Made once a folder, by whoever comes first; readable for its owner only. */
export function token() {
  const file = join(state, 'keeper-token')
  try {
    writeFileSync(file, randomBytes(24).toString('base64url'), { flag: 'wx', mode: 0o600 })
  } catch (error) {
    if (error.code !== 'EEXIST') throw error
  }
  return readFileSync(file, 'utf8').trim()
}

/** What somebody who has the token answers to a word that was made up just now. */
export const proof = word => createHash('sha256').update(`${token()} ${word}`).digest('hex')

/** Asks whoever listens there. @returns its answer, or null where nobody answers in time or it is not ours */
export const askKeeper = (port, path) =>
  new Promise(done => {
    const word = randomBytes(12).toString('hex')
    const asked = request(
      {
        host: '127.0.0.1',
        port,
        path,
        headers: { 'x-word': word, 'x-proof': proof(`${word} asks`) },
        timeout: PATIENCE_MS
      },
      answer => {
        let text = ''
        answer.setEncoding('utf8')
        answer.on('data', piece => {
          text += piece
        })
        answer.on('end', () => {
          try {
            const said = JSON.parse(text)
            done(said.proof === proof(word) ? said : null)
          } catch {
            done(null)
          }
        })
        answer.on('error', () => done(null))
      }
    )
    asked.on('timeout', () => {
      asked.destroy()
      done(null)
    })
    asked.on('error', () => done(null))
    asked.end()
  })

/** The keeper of this checkout, with the port it listens on; null where none runs. */
export async function findKeeper(path = '/status') {
  for (const port of keeperPorts()) {
    const said = await askKeeper(port, path)
    if (said) return { ...said, port }
  }
  return null
}

if (process.argv[1]?.endsWith('keeper.mjs')) {
  const said = await findKeeper(process.argv[2] === 'stop' ? '/stop' : '/status')
  if (process.argv[2] === 'stop') {
    if (said) for (let i = 0; i < 150 && (await findKeeper()); i++) await new Promise(d => setTimeout(d, 100))
  } else console.log(JSON.stringify(said ?? {}))
  process.exit(said ? 0 : 3)
}

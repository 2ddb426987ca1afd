// A hash over everything that a build is made from, so that nothing is built twice. Prints it.
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { root } from './state.mjs'

const PARTS = [
  'app',
  'core',
  'server',
  'host',
  'cli',
  'demo',
  'bench',
  'tools',
  'nuxt.config.ts',
  'package.json',
  'package-lock.json'
]
const hash = createHash('sha256')

function add(path) {
  const full = join(root, path)
  if (!existsSync(full)) return
  if (statSync(full).isDirectory()) {
    for (const name of readdirSync(full).sort()) if (name !== 'node_modules') add(join(path, name))
  } else if (!path.endsWith('kernels/module.ts') && !path.endsWith('.test.ts'))
    hash.update(path).update(readFileSync(full))
}

PARTS.forEach(add)
console.log(hash.digest('hex'))

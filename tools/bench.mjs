// `./nullet bench`: the database must run; the rest is build/bench.mjs. `./nullet bench headline page` runs only these
// parts.
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { startDatabase } from './database.mjs'
import { root } from './state.mjs'

await startDatabase()
process.exit(
  spawnSync(process.execPath, [join(root, 'build/bench.mjs'), ...process.argv.slice(2)], {
    cwd: root,
    stdio: 'inherit'
  }).status ?? 1
)

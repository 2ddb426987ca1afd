// Says what is missing on this machine and how to get it.
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { serverPrograms } from './database.mjs'
import { alive, read, root } from './state.mjs'

const found = command => spawnSync('sh', ['-c', `command -v ${command}`]).status === 0
const lines = [
  ['Node.js 20 or newer', Number(process.versions.node.split('.')[0]) >= 20, 'apt-get install nodejs npm'],
  ['PostgreSQL', !!serverPrograms(), 'apt-get install postgresql-15'],
  ['npm packages', existsSync(join(root, 'node_modules/nuxt')), 'npm ci'],
  ['kernels and commands, built', existsSync(join(root, 'build/cli.mjs')), './nullet start builds them'],
  ['the application, built', existsSync(join(root, '.output/server/index.mjs')), './nullet start builds it'],
  ['Chromium (for tests only)', found('chromium'), 'apt-get install chromium'],
  ['ffmpeg, sox, scipy (for tests only)', found('ffmpeg') && found('sox') && existsSync('/usr/lib/python3/dist-packages/scipy'), 'apt-get install ffmpeg sox python3-scipy'],
  ['the server', alive(read('serve.pid')), './nullet start', read('address')]
]
for (const [what, there, how, more] of lines) console.log(`${there ? 'there  ' : 'missing'}  ${what}${there ? more ? `: ${more}` : '' : `: ${how}`}`)

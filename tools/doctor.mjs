// Says what is missing on this machine and how to get it, and how what runs is. `--media` looks for audio with a hole
// in it.
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { serverPrograms } from './database.mjs'
import { findKeeper } from './keeper.mjs'
import { read, root } from './state.mjs'

const found = command => spawnSync('sh', ['-c', `command -v ${command}`]).status === 0
const keeper = await findKeeper()
const lines = [
  ['Node.js 20 or newer', Number(process.versions.node.split('.')[0]) >= 20, 'apt-get install nodejs npm'],
  ['PostgreSQL', !!serverPrograms(), 'apt-get install postgresql-15'],
  ['npm packages', existsSync(join(root, 'node_modules/nuxt')), 'npm ci'],
  ['kernels and commands, built', existsSync(join(root, 'build/cli.mjs')), './nullet start builds them'],
  ['the application, built', existsSync(join(root, '.output/server/index.mjs')), './nullet start builds it'],
  ['Chromium (for tests only)', found('chromium'), 'apt-get install chromium'],
  [
    'ffmpeg, sox, scipy (for tests only)',
    found('ffmpeg') && found('sox') && existsSync('/usr/lib/python3/dist-packages/scipy'),
    'apt-get install ffmpeg sox python3-scipy'
  ],
  ['the keeper', !!keeper, './nullet start', keeper?.address]
]
for (const [what, there, how, more] of lines)
  console.log(`${there ? 'there  ' : 'missing'}  ${what}${there ? (more ? `: ${more}` : '') : `: ${how}`}`)
for (const [what, how] of Object.entries(keeper?.states ?? {})) console.log(`         ${what}: ${how}`)
for (const { at, what, said } of JSON.parse(read('happened') ?? '[]'))
  console.log(`         ${at.slice(0, 19).replace('T', ' ')}  the ${what} ${said}`)

if (process.argv.includes('--media')) {
  const build = join(root, 'build/media.mjs')
  if (!existsSync(build) || !read('database-url')) {
    console.log('missing  a database to look into: ./nullet start')
    process.exit(1)
  }
  process.exit(spawnSync(process.execPath, [build], { cwd: root, stdio: 'inherit' }).status ?? 1)
}

// Every test: lint, types, units, the application built, then the whole of it with database, worker and browser.
// Ends with one line that adds up everything. `./nullet test unit` runs only the named steps; `--long` runs
// what is generated at full length.
import { spawn, spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { availableParallelism, tmpdir } from 'node:os'
import { join } from 'node:path'
import { root } from './state.mjs'

const folder = mkdtempSync(join(tmpdir(), 'nullet-test-'))
process.on('exit', () => rmSync(folder, { recursive: true, force: true }))
const env = { ...process.env, FORCE_COLOR: '0' }
const run = (command, args) => spawnSync(command, args, { cwd: root, stdio: 'inherit', env }).status === 0
/** Arguments for Node that run a tool of a package. */
const tool = (name, ...args) => [join(root, 'node_modules', ...name.split('/')), ...args]

/** Runs one tool and says what it said once it has ended. */
const heard = args =>
  new Promise(done => {
    const child = spawn(process.execPath, args, { cwd: root, env })
    const said = []
    for (const stream of [child.stdout, child.stderr]) stream.on('data', part => said.push(part))
    child.on('close', code => {
      process.stdout.write(Buffer.concat(said))
      done(code === 0)
    })
  })

/** All of them, whatever the others say, as many at once as there are cores: the longest first. */
async function all(tools) {
  const left = [...tools],
    held = []
  const lane = async () => {
    for (let args = left.shift(); args; args = left.shift()) held.push(await heard(args))
  }
  await Promise.all(Array.from({ length: availableParallelism() }, lane))
  return held.every(Boolean)
}

/** A step that either holds or does not. */
const once = ok => ({ passed: ok ? 1 : 0, failed: ok ? 0 : 1 })

/** @param workers files that are tested at once */
function vitest(project, workers = availableParallelism()) {
  const report = join(folder, `${project}.json`)
  const ok = run(
    process.execPath,
    tool(
      'vitest/vitest.mjs',
      'run',
      '--project',
      project,
      '--maxWorkers',
      String(workers),
      '--reporter',
      'default',
      '--reporter',
      'json',
      '--outputFile.json',
      report
    )
  )
  try {
    const { numPassedTests, numFailedTests, numTotalTestSuites, testResults } = JSON.parse(readFileSync(report, 'utf8'))
    // A file that could not even be loaded has no tests to count.
    const broken = testResults.filter(
      r => r.status === 'failed' && !r.assertionResults.some(a => a.status === 'failed')
    ).length
    return {
      passed: numPassedTests,
      failed:
        numFailedTests + broken + (!ok && numFailedTests + broken === 0 ? 1 : 0) || (numTotalTestSuites === 0 ? 1 : 0)
    }
  } catch {
    return { passed: 0, failed: 1 }
  }
}

const withDatabase = () => run(process.execPath, ['tools/database.mjs', 'start'])

const FORMATTED = '**/*.{ts,vue,mjs,css}'

const STEPS = {
  // Rules, the formatter, the licences of what ships, and the list of words.
  lint: async () =>
    once(
      await all([
        tool('eslint/bin/eslint.js', '.', '--max-warnings', '0'),
        tool('prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', FORMATTED),
        ['tools/words.mjs', '--check'],
        ['tools/licences.mjs', '--check']
      ])
    ),
  // Later steps need what the first one prepares.
  kinds: async () =>
    once(
      await all([
        tool('nuxt/bin/nuxt.mjs', 'typecheck'),
        tool('typescript/bin/tsc', '-p', 'tsconfig.tools.json'),
        tool('typescript/bin/tsc', '-p', 'core'),
        ['tools/indexed.mjs']
      ])
    ),
  unit: () => vitest('unit'),
  build: () => once(run('bash', ['-c', './nullet build'])),
  server: () => (withDatabase() ? vitest('server') : once(false)),
  whole: () => (withDatabase() ? vitest('whole', 1) : once(false))
}

const given = process.argv.slice(2)
// Generated histories, rules and the like run at their full length.
if (given.includes('--long')) process.env.NULLET_LONG = '1'
const wanted = given.filter(a => a !== '--long')
const total = { passed: 0, failed: 0 }
for (const [name, step] of Object.entries(STEPS)) {
  if (wanted.length && !wanted.includes(name)) continue
  console.log(`\n── ${name} ──`)
  const began = Date.now()
  const { passed, failed } = await step()
  total.passed += passed
  total.failed += failed
  console.log(`${name}: ${passed} passed, ${failed} failed, ${((Date.now() - began) / 1000).toFixed(0)} s`)
}
console.log(`\n${total.passed} passed, ${total.failed} failed`)
process.exit(total.failed || !total.passed ? 1 : 0)

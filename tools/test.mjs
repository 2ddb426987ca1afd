// Every test: lint, types, units, the application built, then the whole of it with database, worker and browser.
// Ends with one line that adds up everything. `./nullet test unit` runs only the named steps; `--long` runs
// what is generated at full length.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync } from 'node:fs'
import { availableParallelism, tmpdir } from 'node:os'
import { join } from 'node:path'
import { root } from './state.mjs'

const folder = mkdtempSync(join(tmpdir(), 'nullet-test-'))
const run = (command, args) =>
  spawnSync(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, FORCE_COLOR: '0' } }).status === 0
const tool = (name, ...args) => run(process.execPath, [join(root, 'node_modules', ...name.split('/')), ...args])

/** A step that either holds or does not. */
const once = ok => ({ passed: ok ? 1 : 0, failed: ok ? 0 : 1 })

/** @param workers files that are tested at once: two that play or draw would wait for one another */
function vitest(project, workers) {
  const report = join(folder, `${project}.json`)
  const ok = tool(
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

const FORMATTED = '**/*.{ts,vue,mjs,css}'

const STEPS = {
  // Rules, the formatter, the licences of what ships, and the list of words.
  lint: () =>
    once(
      [
        tool('eslint/bin/eslint.js', '.', '--max-warnings', '0'),
        tool('prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', FORMATTED),
        run(process.execPath, ['tools/licences.mjs', '--check']),
        run(process.execPath, ['tools/words.mjs', '--check'])
      ].every(Boolean)
    ),
  // All run whatever the others say: later steps need what the last one prepares.
  kinds: () =>
    once(
      [
        tool('typescript/bin/tsc', '-p', 'core'),
        tool('typescript/bin/tsc', '-p', 'tsconfig.tools.json'),
        run(process.execPath, ['tools/indexed.mjs']),
        tool('nuxt/bin/nuxt.mjs', 'typecheck')
      ].every(Boolean)
    ),
  unit: () => vitest('unit', availableParallelism()),
  build: () => once(run('bash', ['-c', './nullet build'])),
  whole: () => (once(run(process.execPath, ['tools/database.mjs', 'start'])).failed ? once(false) : vitest('whole', 1))
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
  const { passed, failed } = step()
  total.passed += passed
  total.failed += failed
  console.log(`${name}: ${passed} passed, ${failed} failed, ${((Date.now() - began) / 1000).toFixed(0)} s`)
}
console.log(`\n${total.passed} passed, ${total.failed} failed`)
process.exit(total.failed || !total.passed ? 1 : 0)

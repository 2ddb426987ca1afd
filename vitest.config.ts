import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

/** As the framework has it: “~” is the app. */
const alias = { '~': fileURLToPath(new URL('app', import.meta.url)) }

// Tests never run on kernels of yesterday.
execFileSync(process.execPath, [fileURLToPath(new URL('tools/build-kernels.mjs', import.meta.url))])

/** On a stage: database, worker, built server. */
const onStage = {
  globalSetup: ['e2e/support/setup.ts'],
  expect: { poll: { timeout: 20_000 } },
  testTimeout: 180_000,
  hookTimeout: 180_000
}

// What tests and their browsers write lies in a folder of this run (named as in host/temporary.ts) and goes with it.
const folder = (process.env.TMPDIR = mkdtempSync(join(tmpdir(), `nullet-tmp-tests-${process.pid}-`)))
process.on('exit', () => rmSync(folder, { recursive: true, force: true }))

export default defineConfig({
  test: {
    projects: [
      {
        resolve: { alias },
        test: {
          name: 'unit',
          include: [
            'core/**/*.test.ts',
            'cli/**/*.test.ts',
            'host/**/*.test.ts',
            'demo/**/*.test.ts',
            'app/**/*.test.ts',
            'server/{import,jobs,store,utils}/**/*.test.ts'
          ],
          testTimeout: 60_000
        }
      },
      { resolve: { alias }, test: { name: 'server', include: ['server/*.test.ts'], ...onStage } },
      // Two that play, draw, or crash the database would wait for one another.
      { resolve: { alias }, test: { name: 'whole', include: ['e2e/**/*.test.ts'], ...onStage, fileParallelism: false } }
    ]
  }
})

// Bundles what runs in plain Node: the commands and the worker, one file each.
import { join } from 'node:path'
import { existsSync } from 'node:fs'
import { build } from 'esbuild'
import { freshKernels } from './build-kernels.mjs'

const root = join(import.meta.dirname, '..')
const entries = {
  cli: 'cli/main.ts',
  helper: 'host/helper.ts',
  shaping: 'server/import/shapingThread.ts',
  worker: 'server/jobs/worker.ts',
  demo: 'demo/load.ts',
  bench: 'bench/main.ts',
  migrate: 'server/store/migrate.ts',
  schema: 'tools/write-schema.ts',
  media: 'server/jobs/media.ts'
}
await freshKernels()
await build({
  entryPoints: Object.entries(entries)
    .filter(([, f]) => existsSync(join(root, f)))
    .map(([out, f]) => ({ out, in: join(root, f) })),
  outdir: join(root, 'build'),
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  outExtension: { '.js': '.mjs' },
  // CommonJS packages inside an ES module file still ask for these.
  external: ['playwright-core', 'chromium-bidi', 'libflacjs'],
  banner: {
    js: "import { createRequire as __cr } from 'node:module'; import { fileURLToPath as __fu } from 'node:url'; import { dirname as __dn } from 'node:path'; const require = __cr(import.meta.url); const __filename = __fu(import.meta.url); const __dirname = __dn(__filename);"
  },
  logLevel: 'warning'
})

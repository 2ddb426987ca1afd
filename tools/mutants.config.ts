import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

const asked = (process.env.NULLET_PLANTED ?? 'core').split(' ')

/** The unit tests as `npm run mutants` runs them: those near what is changed, many thousand times. */
export default defineConfig({
  resolve: { alias: { '~': fileURLToPath(new URL('../app', import.meta.url)) } },
  test: {
    include: asked.map(path => (path.endsWith('.ts') ? path : `${path}/**/*.test.ts`)),
    isolate: false,
    testTimeout: 60_000
  }
})

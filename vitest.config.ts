import { defineConfig } from 'vitest/config'

const whole = { globalSetup: ['e2e/support/setup.ts'], expect: { poll: { timeout: 20_000 } }, testTimeout: 180_000, hookTimeout: 180_000, fileParallelism: false }

export default defineConfig({
  test: {
    projects: [
      { test: { name: 'unit', include: ['core/**/*.test.ts', 'cli/**/*.test.ts', 'host/**/*.test.ts', 'demo/**/*.test.ts', 'app/**/*.test.ts'], testTimeout: 60_000 } },
      { test: { name: 'whole', include: ['server/**/*.test.ts', 'e2e/**/*.test.ts'], ...whole } }
    ]
  }
})

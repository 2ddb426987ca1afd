import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, it } from 'vitest'
import { unitTable } from './unitTable'

it('docs/units.md is what the units say: node build/schema.mjs writes it', () => {
  expect(readFileSync(join(import.meta.dirname, '../../../docs/units.md'), 'utf8')).toBe(unitTable())
})

import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { packageSchema } from './schema'

describe('the documented schema', () => {
  it('is what the code reads (node build/schema.mjs writes it anew)', () => {
    expect(readFileSync(join(import.meta.dirname, '../../../docs/session-package.schema.json'), 'utf8')).toBe(
      packageSchema()
    )
  })

  it('asks only for ids, names and kinds', () => {
    const schema = JSON.parse(packageSchema())
    expect(schema.required).toEqual(['nullet', 'session'])
    expect(schema.properties.channel.items.required).toEqual(['id', 'name', 'kind'])
    expect(schema.properties.feed.items.required).toEqual(['id', 'kind'])
  })
})

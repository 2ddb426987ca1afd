// Every preset is one that its processor takes, and every processor has some.
import { expect, it } from 'vitest'
import { paramFault } from './processor'
import { PRESETS } from './presets'
import { PROCESSORS } from './table'

it.each(Object.keys(PROCESSORS))('%s has presets within its ranges, each under its own name', id => {
  const list = PRESETS[id]
  expect(list.length).toBeGreaterThan(2)
  expect(new Set(list.map(p => p.name)).size).toBe(list.length)
  for (const p of list) expect(paramFault(PROCESSORS[id].parameters, p.params)).toBeNull()
})

// Which plans are the same but for values.
import { expect, it } from 'vitest'
import { PlanBuilder } from '../plan/builder'
import type { Signal } from '../plan/operations'
import { valuesAfter } from './values'

/** Two sources made in this order, of which one is heard with this gain. */
function plan(order: readonly string[], heard: string, gain = 1) {
  const builder = new PlanBuilder()
  const sources = new Map<string, Signal>(order.map(key => [key, builder.source(key, ['M'], [1])]))
  builder.sink('ears', builder.gain('fader', sources.get(heard)!, gain))
  return builder.ops
}

it('other values are the same plan, and those are named', () => {
  expect(valuesAfter(plan(['a', 'b'], 'a'), plan(['a', 'b'], 'a', 0.5))!.map(op => op.key)).toEqual(['fader/0'])
  expect(valuesAfter(plan(['a', 'b'], 'a'), plan(['a', 'b'], 'a'))).toEqual([])
})

it('another source is another plan, also where the numbers of the buffers hide it', () => {
  expect(valuesAfter(plan(['a', 'b'], 'a'), plan(['a', 'b'], 'b'))).toBeNull()
  // Made first, it writes the buffer that the other wrote: what hears it reads the same number as before.
  expect(valuesAfter(plan(['a', 'b'], 'a'), plan(['b', 'a'], 'b'))).toBeNull()
})

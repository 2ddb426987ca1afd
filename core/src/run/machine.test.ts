// Which plans a running machine takes as the same but for parameters.
import { expect, it } from 'vitest'
import { PlanBuilder } from '../plan/builder'
import type { Signal } from '../plan/operations'
import { Machine } from './machine'

/** Two sources made in this order, of which one is heard with this gain. */
function plan(order: readonly string[], heard: string, gain = 1) {
  const builder = new PlanBuilder()
  const sources = new Map<string, Signal>(order.map(key => [key, builder.source(key, ['M'], [1])]))
  builder.sink('ears', builder.gain('fader', sources.get(heard)!, gain))
  return builder.ops
}

it('other parameters are the same plan', () => {
  expect(new Machine(plan(['a', 'b'], 'a')).update(plan(['a', 'b'], 'a', 0.5))).toBe(true)
})

it('another source is another plan, also where the numbers of the buffers hide it', () => {
  expect(new Machine(plan(['a', 'b'], 'a')).update(plan(['a', 'b'], 'b'))).toBe(false)
  // Made first, it writes the buffer that the other wrote: what hears it reads the same number as before.
  expect(new Machine(plan(['a', 'b'], 'a')).update(plan(['b', 'a'], 'b'))).toBe(false)
})

// What a slot's operations are told while settings move is what building them with those settings gives, whichever of
// them move together.
import { describe, expect, it } from 'vitest'
import { compile } from '../compile/compile'
import { valueAt } from '../movement/envelope'
import { PlanBuilder } from '../plan/builder'
import { PROCESSORS } from '../processors/table'
import type { EnvelopePoint, Params } from '../session/rows'
import { Dice } from '../testing/generated'
import { times } from '../testing/lengths'
import { firstOther } from '../testing/parameters'
import { Sketch } from '../testing/sketch'
import { Machine } from './machine'
import { Mover } from './mover'

const FRAMES = 48000

/** A track with one slot, of which these settings go to and fro by chance; bands of an equaliser are on. */
function moved(processor: string, dice: Dice, count: number) {
  const k = new Sketch()
  k.bus('main', { role: 'main' })
  k.medium('m', 2, FRAMES)
  k.main(k.track('t', 'm'), 'main')
  const kinds: Params = processor === 'equaliser' ? { kind1: 'low shelf', kind4: 'bell', highCutSlope: '18' } : {}
  const slot = k.slot('t', processor, kinds)
  const movable = PROCESSORS[processor]!.parameters.filter(p => !p.choices && !p.shapes)
  const fields = new Set(Array.from({ length: count }, () => dice.pick(movable)))
  for (const { name, min, max } of fields) {
    const points = Array.from({ length: 5 }, (_, i): EnvelopePoint => [
      (i * FRAMES) / 5,
      min! + dice.next() * (max! - min!)
    ])
    k.move({ slot }, name, points)
  }
  return compile(k.session, { taps: [{ channel: 'main', tap: 'post' }] })
}

describe('settings in motion', () => {
  it.each(Object.keys(PROCESSORS).filter(id => id !== 'convolution'))('of %s, one and several at once', id => {
    for (let seed = 1; seed <= times(20, 400); seed++) {
      const dice = new Dice(seed),
        plan = moved(id, dice, 1 + dice.below(3)),
        machine = new Machine(plan.ops),
        mover = new Mover(plan.moves, machine),
        [move] = plan.moves
      for (let n = 0; n < 6; n++) {
        const frame = dice.below(FRAMES)
        mover.to(frame)
        machine.run()
        const builder = new PlanBuilder(),
          params = { ...move!.made!.params }
        for (const { name, points, law } of move!.fields)
          params[name] = valueAt(points, frame - move!.signal.latency, law)
        PROCESSORS[id]!.build(move!.signal, { ...move!.made!, params, builder, responseFrames: () => 0 })
        // One decay of a reverb is laid between its neighbours.
        const off = id === 'reverb' && move!.fields.length === 1 ? 0.02 : 0
        for (const { kind, key, params: wanted } of builder.ops) {
          const is = machine.placeOf(key)!,
            other = firstOther(kind, is, wanted, off)
          if (other >= 0) expect(is[other], `${key}, ${other}, seed ${seed}`).toBe(wanted[other])
        }
      }
    }
  })
})

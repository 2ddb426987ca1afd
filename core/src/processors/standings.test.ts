// Where settings stand in the parameters of operations: moving them there gives what building everything gives.
import { describe, expect, it } from 'vitest'
import { PlanBuilder } from '../plan/builder'
import { LAYOUTS } from '../session/layouts'
import type { Params } from '../session/rows'
import { Dice } from '../testing/generated'
import { times } from '../testing/lengths'
import type { Processor } from './processor'
import { PROCESSORS, settingsOf } from './table'

const RATE = 48000

function built(processor: Processor, params: Params): number[][] {
  const builder = new PlanBuilder()
  const signal = builder.source('in', LAYOUTS.stereo, [1, 1])
  processor.build(signal, {
    builder,
    key: 'slot/s',
    params,
    sampleRate: RATE,
    beatMs: 500,
    responseFrames: () => 0,
    keySignal: signal
  })
  return builder.ops.filter(op => op.kind !== 'source').map(op => op.params)
}

/** Any settings of a processor. */
const anyOf = ({ parameters }: Processor, dice: Dice): Params =>
  Object.fromEntries(
    parameters.map(p => [p.name, p.choices ? dice.pick(p.choices) : p.min! + dice.next() * (p.max! - p.min!)])
  )

const quick = Object.values(PROCESSORS).filter(p => p.standsIn)

describe('settings that stand in one place', () => {
  it('are those of the equaliser', () => expect(quick.map(p => p.id)).toEqual(['equaliser']))

  it.each(quick.map(p => [p.id, p] as const))('of %s move there to what building gives', (_, processor) => {
    let stood = 0
    for (let seed = 1; seed <= times(60, 1000); seed++) {
      const dice = new Dice(seed),
        before = settingsOf(processor, anyOf(processor, dice))
      for (const { name, choices, min, max } of processor.parameters) {
        const standing = processor.standsIn!(name, before)
        if (!standing) continue
        stood++
        expect(choices).toBeUndefined()
        const after = { ...before, [name]: min! + dice.next() * (max! - min!) }
        const moved = built(processor, before)
        for (const params of moved) params.splice(standing.at, 5, ...standing.values(after, RATE))
        expect(moved, `${name} of ${JSON.stringify(before)}`).toEqual(built(processor, after))
      }
    }
    expect(stood).toBeGreaterThan(500)
  })

  it('do not where a band is off, nor where a cut moves', () => {
    const { equaliser } = PROCESSORS
    const params = settingsOf(equaliser!, { kind1: 'bell', lowCutSlope: '12' })
    expect(['hz1', 'hz2', 'lowCutHz', 'kind1'].map(s => equaliser!.standsIn!(s, params) !== null)).toEqual([
      true,
      false,
      false,
      false
    ])
  })
})

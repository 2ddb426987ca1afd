// Where settings stand in the parameters of operations: moving them there gives what building everything gives.
import { describe, expect, it } from 'vitest'
import { PlanBuilder } from '../plan/builder'
import { NOBODY, type Op } from '../plan/operations'
import { Machine } from '../run/machine'
import { LAYOUTS } from '../session/layouts'
import type { Params } from '../session/rows'
import { Dice } from '../testing/generated'
import { times } from '../testing/lengths'
import { firstOther } from '../testing/parameters'
import type { Processor } from './processor'
import { PROCESSORS, settingsOf } from './table'

const RATE = 48000

function built(processor: Processor, params: Params): Pick<Op, 'kind' | 'params'>[] {
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
  return builder.ops.filter(op => op.kind !== 'source').map(({ kind, params }) => ({ kind, params }))
}

/** Any settings of a processor. */
const anyOf = ({ parameters }: Processor, dice: Dice): Params =>
  Object.fromEntries(
    parameters.map(p => [p.name, p.choices ? dice.pick(p.choices) : p.min! + dice.next() * (p.max! - p.min!)])
  )

const quick = Object.values(PROCESSORS).filter(p => p.standsIn)

/** Settings of a reverb that take long to settle: between neighbours of a scale. */
const LAID_BETWEEN = new Set(['decayS', 'lowDecay', 'highDecay', 'lowHz', 'highHz'])
const apart = (a: readonly number[], b: readonly number[]) => Math.max(...a.map((v, i) => Math.abs(v - b[i]!)))

/** Which parameter is not what building gives, once a block has been computed with what an equaliser is told? */
function other(op: ReturnType<typeof built>[number], wanted: typeof op): number {
  const builder = new PlanBuilder(),
    { legs } = builder.source('in', LAYOUTS.mono, [1])
  const told: Op = { ...op, key: 'told', owner: NOBODY, ins: legs, outs: [1], state: 8 + 56 * op.params[0]! },
    machine = new Machine([...builder.ops, told])
  machine.run()
  return firstOther(op.kind, machine.placeOf('told')!, wanted.params)
}

const standing = ({ standsIn, parameters }: Processor, params: Params) =>
  parameters.map(p => p.name).filter(name => standsIn!(name, params, RATE).length)

describe('settings that stand in known places', () => {
  it.each([
    ['equaliser', { kind1: 'bell', lowCutSlope: '12' }, ['hz1', 'db1', 'q1']],
    ['compressor', {}, ['thresholdDb', 'ratio', 'kneeDb', 'attackMs', 'releaseMs', 'makeupDb', 'averageMs']],
    ['gate', {}, ['thresholdDb', 'hysteresisDb', 'rangeDb', 'attackMs', 'holdMs', 'releaseMs']],
    ['ducker', {}, ['thresholdDb', 'depthDb', 'hysteresisDb', 'attackMs', 'holdMs', 'releaseMs']],
    ['limiter', {}, ['driveDb', 'ceilingDb', 'releaseMs']],
    ['saturation', {}, ['driveDb', 'bias', 'outputDb']],
    ['tremolo', {}, ['hz', 'depth']],
    ['delay', {}, ['feedback', 'cross', 'lowCutHz', 'highCutHz']],
    ['reverb', {}, ['decayS', 'lowDecay', 'highDecay', 'lowHz', 'highHz', 'preDelayMs', 'diffusion']]
  ])('of %s with %o: %s', (id, params, names) => {
    const processor = PROCESSORS[id]!
    expect(standing(processor, settingsOf(processor, params))).toEqual(names)
  })

  it.each(quick.map(p => [p.id, p] as const))('of %s move there to what building gives', (_, processor) => {
    let stood = 0
    const distances: number[] = []
    for (let seed = 1; seed <= times(60, 1000); seed++) {
      const dice = new Dice(seed),
        before = settingsOf(processor, anyOf(processor, dice))
      for (const name of standing(processor, before)) {
        const { choices, shapes, min, max } = processor.parameters.find(p => p.name === name)!
        expect(choices ?? shapes).toBeUndefined()
        const after = { ...before, [name]: min! + dice.next() * (max! - min!) }
        const moved = built(processor, before)
        for (const { kind, at, values } of processor.standsIn!(name, before, RATE))
          for (const op of moved) {
            const now = values(after, after[name] as number)
            if (op.kind === kind) op.params.splice(at, now.length, ...now)
          }
        const wanted = built(processor, after),
          what = `${name} of ${JSON.stringify(before)}`
        if (processor.id === 'equaliser')
          expect(
            moved.map((op, i) => other(op, wanted[i]!)),
            what
          ).toEqual([-1, -1])
        else if (!LAID_BETWEEN.has(name)) expect(moved, what).toEqual(wanted)
        else for (const [i, op] of moved.entries()) distances.push(apart(op.params, wanted[i]!.params))
        stood++
      }
    }
    if (distances.length) {
      distances.sort((a, b) => a - b)
      expect(distances.at(-1)).toBeLessThan(0.02)
      expect(distances[Math.floor(0.9 * distances.length)]).toBeLessThan(1e-4)
    }
    expect(stood).toBeGreaterThanOrEqual(times(120, 2000))
  })
})

// Operations in one step give the samples that they give one after the other. The other machine has a sink at every
// place between them, so that nothing there can be left out.
import { describe, expect, it } from 'vitest'
import { compile } from '../compile/compile'
import { BLOCK, STAGE, NOBODY, type Op } from '../plan/operations'
import type { Session } from '../session/session'
import { Dice } from '../testing/generated'
import { processedNetwork } from '../testing/generatedSound'
import { times } from '../testing/lengths'
import { Sketch } from '../testing/sketch'
import { Machine } from './machine'
import { schedule } from './schedule'
import { isStrip, stripsOf } from './strips'

const planOf = (session: Session, live = true) =>
  compile(session, { taps: [{ channel: 'main', tap: 'post' }], live }).ops

const betweens = (ops: readonly Op[]) =>
  stripsOf(ops)
    .filter(step => step.length > 1)
    .flatMap(step => step.slice(0, -1).flatMap(op => op.outs))

const watched = (ops: readonly Op[]): Op[] => [
  ...ops,
  ...betweens(ops).map((b, i): Op => ({
    kind: 'sink',
    owner: NOBODY,
    key: `watch/${i}`,
    ins: [b],
    outs: [],
    params: [0],
    state: 0
  }))
]

/** A track with a compressor into the main. */
function track(): Session {
  const k = new Sketch()
  k.bus('main', { role: 'main', layout: ['M'] })
  k.medium('m', 1, 4096)
  k.main(k.track('t', 'm', { layout: ['M'] }), 'main')
  k.slot('t', 'compressor')
  return k.session
}

const kindsOf = (ops: readonly Op[]) =>
  schedule(ops)
    .steps.filter(s => isStrip(s.lanes))
    .map(s => s.lanes.map(op => op.kind))

describe('a strip', () => {
  it('is the product, the guard and the fader in one step', () => {
    expect(kindsOf(planOf(track(), false))).toContainEqual(['multiply', 'mix', 'mix'])
  })

  it('is none where somebody listens in between', () => {
    const ops = planOf(track())
    expect(betweens(ops).length).toBeGreaterThan(1)
    expect(kindsOf(watched(ops))).toEqual([])
  })

  it.each(Array.from({ length: times(6, 60) }, (_, i) => i + 1))(
    'has the samples of its parts, while gains move, in silence, and where numbers become none: network %i',
    seed => {
      const session = processedNetwork(seed),
        dice = new Dice(seed)
      const ops = planOf(session),
        machines = [new Machine(ops), new Machine(watched(planOf(session)))] as const
      const mixes = ops.filter(op => op.kind === 'mix')
      const sinks = ops.filter(op => op.kind === 'sink').map(op => op.key)
      let heard = 0
      for (let n = 0; n < 120; n++) {
        const at = machines[0].frame % 4096,
          loud = dice.pick([0, 0.3, 0.3, 0.3, 3e38])
        for (const { key, kind } of ops) {
          if (kind !== 'source') continue
          const sound = Float32Array.from({ length: BLOCK }, () => (dice.next() - 0.5) * loud)
          for (const machine of machines) for (const leg of machine.stagingOf(key)) leg.set(sound, at % STAGE)
        }
        if (dice.chance(0.3)) {
          const moved = dice.pick(mixes),
            params = moved.params.map(() => dice.next() * 2 - 1)
          for (const machine of machines) machine.aim([{ ...moved, params }])
        }
        for (const machine of machines) machine.run()
        for (const key of sinks) {
          const [one, other] = machines.map(m => m.stagingOf(key).map(leg => leg.slice(at, at + BLOCK)))
          expect(one, `block ${n}, ${key}`).toEqual(other)
          if (one!.some(leg => leg.some(v => v !== 0))) heard++
        }
      }
      expect(heard).toBeGreaterThan(0)
      const [faults, others] = machines.map(m => m.faults().map(op => op.key))
      expect(faults).toEqual(others)
    }
  )
})

it('strips are found in generated networks, each operation once', () => {
  const ops = planOf(processedNetwork(2)),
    steps = stripsOf(ops)
  expect(new Set(steps.flat())).toEqual(new Set(ops))
  expect(steps.flat().length).toBe(ops.length)
  expect(steps.filter(s => s.length > 1).length).toBeGreaterThan(5)
})

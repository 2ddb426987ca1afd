// What is silent is not computed, and nobody can tell: two machines, of which one computes everything, give the same
// samples to the bit, through gaps, tails, settings that change and sound that comes back.
import { describe, expect, it } from 'vitest'
import { valuesAfter } from '../compile/values'
import { compile } from '../compile/compile'
import { PlanBuilder } from '../plan/builder'
import { BLOCK, STAGE, type Op } from '../plan/operations'
import { PROCESSORS } from '../processors/table'
import type { Params } from '../session/rows'
import { rows, type Session } from '../session/session'
import { Dice } from '../testing/generated'
import { processedNetwork } from '../testing/generatedSound'
import { times } from '../testing/lengths'
import { Sketch } from '../testing/sketch'
import { whiteNoise } from '../testing/sound'
import { bringResponses } from './bringResponses'
import { layOut } from './layout'
import { Machine } from './machine'
import { MemoryMedia } from './memoryMedia'

const planOf = (session: Session) =>
  compile(session, { taps: rows(session, 'channel').map(c => ({ channel: c.id, tap: 'post' })), live: true })

interface Pair {
  machines: [Machine, Machine]
  ops: readonly Op[]
}
/** Machines have their own operations: where samples lie is said there. */
const pairOf = (make: () => readonly Op[]): Pair => {
  const [ops, others] = [make(), make()]
  return { ops, machines: [new Machine(ops), new Machine(others, layOut(others, { rests: false }))] }
}
const of = (session: Session) => () => planOf(session).ops
const keys = (ops: readonly Op[], kind: Op['kind']) => ops.filter(op => op.kind === kind).map(op => op.key)

/** A block into both; the same must come out of both. @returns blocks of sinks that are nothing but +0 */
function step({ machines, ops }: Pair, sound: (key: string, leg: number) => Float32Array | null, what: string): number {
  const at = machines[0].frame % 4096
  for (const machine of machines)
    for (const key of keys(ops, 'source'))
      machine.stagingOf(key).forEach((staged, leg) => {
        const block = sound(key, leg)
        const to = at % STAGE
        if (block) staged.set(block, to)
        else staged.fill(0, to, to + BLOCK)
      })
  for (const machine of machines) machine.run()
  let silent = 0
  for (const key of keys(ops, 'sink'))
    machines[0].stagingOf(key).forEach((leg, i) => {
      const [is, was] = [leg, machines[1].stagingOf(key)[i]!].map(
        x => new Uint32Array(x.buffer, x.byteOffset + at * 4, BLOCK)
      )
      if (is!.some((bits, n) => bits !== was![n])) expect(is, `${what}, ${key}`).toEqual(was)
      if (was!.every(bits => bits === 0)) silent++
    })
  return silent
}

/** Where operations say for how many blocks they still sound: a word of their state. */
const COUNTS: Partial<Record<Op['kind'], number>> = { reverb: 4, echo: 2, convolve: 0, wow: 1, drift: 1 }
function counts({ ops, machines }: Pair): number[] {
  return ops.flatMap(({ kind, key }) => {
    const word = COUNTS[kind],
      state = machines[0].stateOf(key)!
    return word === undefined ? [] : new Int32Array(state.buffer, state.byteOffset)[word]!
  })
}

/** Silence, sound, silence until everything is at rest, sound: the same all along. */
function throughAll(pair: Pair, blocks: number): void {
  const sounds = (n: number) => (n >= 5 && n < 25) || n > blocks - 40
  const expected = counts(pair).map(() => 0)
  for (let n = 0; n < blocks; n++) {
    step(pair, (_, leg) => (sounds(n) ? whiteNoise(BLOCK, n * 2 + leg, 0.4) : null), `block ${n}`)
    if (n === 4 || n === blocks - 41) expect(counts(pair), `at rest, block ${n}`).toEqual(expected)
    if (n === 24 && expected.length) expect(counts(pair)).not.toEqual(expected)
  }
}

/** So that they are at rest soon. */
const QUICK: Record<string, Params> = {
  compressor: { releaseMs: 10 },
  gate: { thresholdDb: -30, releaseMs: 10 },
  ducker: { releaseMs: 10 },
  delay: { timeMs: 20, feedback: 10 },
  reverb: { decayS: 0.2, size: 20 },
  convolution: { endS: 0.05 }
}

describe('silence', () => {
  it('costs nothing and changes nothing in generated networks whose tracks come and go', () => {
    let silent = 0
    for (let seed = 1; seed <= times(6, 60); seed++) {
      const dice = new Dice(seed),
        session = processedNetwork(seed),
        pair = pairOf(of(session))
      const sounds = new Map<string, boolean>()
      for (let n = 0; n < 260; n++) {
        for (const key of keys(pair.ops, 'source')) if (n % 13 === 0) sounds.set(key, n < 150 && dice.chance(0.3))
        silent += step(
          pair,
          (key, leg) => (sounds.get(key) ? whiteNoise(BLOCK, seed + n * 17 + key.length + leg, 0.4) : null),
          `network ${seed}, block ${n}`
        )
        if (n % 40 !== 39) continue
        // A hand on faders and settings, in silence too.
        for (const c of rows(session, 'channel')) if (dice.chance(0.2)) c.levelDb = -dice.below(30)
        for (const s of rows(session, 'slot')) if (dice.chance(0.2)) s.mix = dice.next()
        const values = valuesAfter(pair.ops, planOf(session).ops)!
        for (const machine of pair.machines) machine.aim(values)
      }
    }
    expect(silent).toBeGreaterThan(1000)
  })

  it.each(Object.keys(PROCESSORS))('through %s, from the beginning, until it is at rest again, and after', async id => {
    const k = new Sketch()
    k.bus('main', { role: 'main' })
    k.medium('m', 2, 100)
    k.slot(k.track('t', 'm'), id, QUICK[id] ?? {})
    k.main('t', 'main')
    const pair = pairOf(of(k.session))
    for (const machine of pair.machines) await bringResponses(machine, pair.ops, k.session, new MemoryMedia())
    throughAll(pair, id === 'delay' ? 2600 : 1000)
  })

  it('through what units and converters are made of', () => {
    throughAll(
      pairOf(() => {
        const b = new PlanBuilder(),
          taps = Array.from({ length: 64 }, (_, i) => Math.sin(i) / 64),
          signal = b.source('source', ['M'], [1])
        const sines = [
          { swing: 20, turns: 1e-4, from: 0.3 },
          { swing: 3, turns: 1e-3, from: 0 }
        ]
        const lines = {
          drift: b.drift('drift', signal, 12),
          wow: b.wow('wow', signal, 300, 1024, sines),
          fir: b.fir('fir', signal, taps),
          bend: b.bend('bend', signal, 2, 0, 1, taps),
          biased: b.bend('biased', signal, 2, 0.1, 1, taps)
        }
        for (const [name, line] of Object.entries(lines)) b.sink(`sink ${name}`, line)
        return b.ops
      }),
      400
    )
  })

  it('before a setting moves with the first sound: it moves from where it stood', () => {
    const sessionOf = (params: Record<string, Params>) => {
      const k = new Sketch()
      k.bus('main', { role: 'main' })
      for (const id of ['delay', 'reverb']) {
        k.medium(`${id}-m`, 2, 100)
        k.slot(k.track(id, `${id}-m`), id, params[id])
        k.main(id, 'main')
      }
      return k.session
    }
    const [before, after] = [
      sessionOf({ delay: { timeMs: 10 }, reverb: { preDelayMs: 0 } }),
      sessionOf({ delay: { timeMs: 12 }, reverb: { preDelayMs: 2, size: 70 } })
    ]
    const pair = pairOf(of(before)),
      values = valuesAfter(pair.ops, of(after)())!
    for (let n = 0; n < 60; n++) {
      if (n === 6) for (const machine of pair.machines) machine.aim(values)
      step(pair, (_, leg) => (n < 6 ? null : whiteNoise(BLOCK, n * 2 + leg, 0.4)), `block ${n}`)
    }
  })

  it('of −0 is no silence, and what is a number no more is stopped as ever', () => {
    const k = new Sketch()
    k.bus('main', { role: 'main' })
    k.medium('m', 1, 100)
    k.main(k.track('t', 'm', { flippedLegs: [0] }), 'main')
    const pair = pairOf(of(k.session))
    for (const value of [0, -0, NaN, Infinity, 0, 1e-30])
      step(pair, () => new Float32Array(BLOCK).fill(value), `${value}`)
    expect(pair.machines[0].faults().map(op => op.key)).toEqual(pair.machines[1].faults().map(op => op.key))
    expect(pair.machines[0].faults().length).toBeGreaterThan(0)
  })
})

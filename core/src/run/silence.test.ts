// What is silent is not computed, and nobody can tell: two machines, of which one computes everything, give the same
// samples to the bit, through gaps, tails, settings that change and sound that comes back.
import { describe, expect, it } from 'vitest'
import { valuesAfter } from '../compile/values'
import { compile } from '../compile/compile'
import { BLOCK } from '../plan/operations'
import { PROCESSORS } from '../processors/table'
import type { Params } from '../session/rows'
import { rows, type Session } from '../session/session'
import { Dice } from '../testing/generated'
import { processedNetwork } from '../testing/generatedSound'
import { times } from '../testing/lengths'
import { Sketch } from '../testing/sketch'
import { whiteNoise } from '../testing/sound'
import { layOut } from './layout'
import { Machine } from './machine'

const planOf = (session: Session) =>
  compile(session, { taps: rows(session, 'channel').map(c => ({ channel: c.id, tap: 'post' })), live: true })

interface Pair {
  machines: [Machine, Machine]
  plan: ReturnType<typeof planOf>
}
function pairOf(session: Session): Pair {
  const [plan, { ops }] = [planOf(session), planOf(session)]
  return { plan, machines: [new Machine(plan.ops), new Machine(ops, layOut(ops, { rests: false }))] }
}

/** A block into both; the same must come out of both. @returns blocks of sinks that are nothing but +0 */
function step(
  { machines, plan }: Pair,
  sound: (key: string, leg: number) => Float32Array | null,
  what: string
): number {
  const at = machines[0].frame % 4096
  for (const machine of machines)
    for (const { key } of plan.sources)
      machine.stagingOf(key).forEach((staged, leg) => {
        const block = sound(key, leg)
        if (block) staged.set(block, at)
        else staged.fill(0, at, at + BLOCK)
      })
  for (const machine of machines) machine.run()
  let silent = 0
  for (const { key } of plan.sinks.values())
    machines[0].stagingOf(key).forEach((leg, i) => {
      const [is, was] = [leg, machines[1].stagingOf(key)[i]!].map(
        x => new Uint32Array(x.buffer, x.byteOffset + at * 4, BLOCK)
      )
      if (is!.some((bits, n) => bits !== was![n])) expect(is, `${what}, ${key}`).toEqual(was)
      if (was!.every(bits => bits === 0)) silent++
    })
  return silent
}

/** So that they are at rest soon. */
const QUICK: Record<string, Params> = {
  compressor: { releaseMs: 10 },
  gate: { thresholdDb: -30, releaseMs: 10 },
  ducker: { releaseMs: 10 },
  delay: { timeMs: 20, feedback: 10 }
}

describe('silence', () => {
  it('costs nothing and changes nothing in generated networks whose tracks come and go', () => {
    let silent = 0
    for (let seed = 1; seed <= times(6, 60); seed++) {
      const dice = new Dice(seed),
        session = processedNetwork(seed),
        pair = pairOf(session)
      const sounds = new Map<string, boolean>()
      for (let n = 0; n < 260; n++) {
        for (const { key } of pair.plan.sources) if (n % 13 === 0) sounds.set(key, n < 150 && dice.chance(0.3))
        silent += step(
          pair,
          (key, leg) => (sounds.get(key) ? whiteNoise(BLOCK, seed + n * 17 + key.length + leg, 0.4) : null),
          `network ${seed}, block ${n}`
        )
        if (n % 40 !== 39) continue
        // A hand on faders and settings, in silence too.
        for (const c of rows(session, 'channel')) if (dice.chance(0.2)) c.levelDb = -dice.below(30)
        for (const s of rows(session, 'slot')) if (dice.chance(0.2)) s.mix = dice.next()
        const values = valuesAfter(pair.plan.ops, planOf(session).ops)!
        for (const machine of pair.machines) machine.aim(values)
      }
    }
    expect(silent).toBeGreaterThan(1000)
  })

  it.each(Object.keys(PROCESSORS).filter(id => id !== 'convolution'))(
    'after sound through %s, until that is at rest, and when sound comes back',
    id => {
      const k = new Sketch()
      k.bus('main', { role: 'main' })
      k.medium('m', 2, 100)
      k.slot(k.track('t', 'm'), id, QUICK[id] ?? {})
      k.main('t', 'main')
      const pair = pairOf(k.session)
      for (let n = 0; n < 900; n++)
        step(pair, (_, leg) => (n < 20 || n > 860 ? whiteNoise(BLOCK, n * 2 + leg, 0.4) : null), `block ${n}`)
    }
  )

  it('of −0 is no silence, and what is a number no more is stopped as ever', () => {
    const k = new Sketch()
    k.bus('main', { role: 'main' })
    k.medium('m', 1, 100)
    k.main(k.track('t', 'm', { flippedLegs: [0] }), 'main')
    const pair = pairOf(k.session)
    for (const value of [0, -0, NaN, Infinity, 0, 1e-30])
      step(pair, () => new Float32Array(BLOCK).fill(value), `${value}`)
    expect(pair.machines[0].faults().map(op => op.key)).toEqual(pair.machines[1].faults().map(op => op.key))
    expect(pair.machines[0].faults().length).toBeGreaterThan(0)
  })
})

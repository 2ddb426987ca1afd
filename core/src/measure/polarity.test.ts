// Units and cables that turn polarity, in chains by seed: a ping says so, and is never wrong about it.
import { expect, it } from 'vitest'
import type { Params } from '../session/rows'
import { UNITS } from '../rig/units'
import { Dice } from '../testing/generated'
import { Sketch } from '../testing/sketch'
import { ping } from './ping'

const TRIALS = process.env.NULLET_LONG ? 1000 : 12
/** Those whose sound has a polarity: a reverb's has none. */
const MODELS = ['wire', 'passive-equaliser', 'valve-compressor', 'tape-deck', 'tube-amplifier', 'summing-8']

function chain(dice: Dice): { k: Sketch; turns: number; told: string } {
  const k = new Sketch('Chain', { sampleRate: dice.pick([44100, 48000, 96000]) })
  k.rig('room')
  k.interface('io', 'room', 1, 1, {
    trueLatencySamples: dice.below(2000) + dice.next(),
    noiseDbfs: -115 + dice.next() * 58,
    referenceDbu: dice.pick([13, 18, 24])
  })
  let turns = 0,
    from = 'io-out-1'
  const plug = (to: string) => {
    const inverts = dice.chance(0.5)
    turns += +inverts
    k.cable('room', from, to, { inverts })
  }
  const models = Array.from({ length: dice.below(4) }, () => dice.pick(MODELS))
  models.forEach((model, i) => {
    const inverts = dice.chance(0.5)
    turns += +inverts
    const settings: Params = {}
    for (const { name, min, max } of UNITS[model].settings)
      if (min !== undefined && max !== undefined && dice.chance(0.5)) settings[name] = min + dice.next() * (max - min)
    k.unit(`u${i}`, 'room', model, settings, { inverts })
    plug(`u${i}:0`)
    from = `u${i}:0`
  })
  plug('io-in-1')
  k.add('loop', { id: 'l', rig: 'room', name: 'L', outPorts: ['io-out-1'], inPorts: ['io-in-1'] })
  return { k, turns, told: `${models.join(' → ')}, turned ${turns} times, ${JSON.stringify(k.session.unit)}` }
}

it(`${TRIALS} chains: polarity is what units and cables make of it, or it is not certain`, async () => {
  const dice = new Dice(3)
  let measured = 0
  for (let n = 0; n < TRIALS; n++) {
    const { k, turns, told } = chain(dice)
    const result = await ping(k.session, k.session.loop.l, { seed: n })
    if (!result.measured || !result.polarityIsClear) continue
    measured++
    expect(result.inverted, told).toBe(turns % 2 === 1)
  }
  expect(measured).toBeGreaterThan(TRIALS / 2)
}, 1_800_000)

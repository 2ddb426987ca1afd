// Two threads over one machine give to the bit what one gives, however they meet: with the helper there from the first
// block, late, let go and taken on again in the middle, or gone.
import { Worker } from 'node:worker_threads'
import { describe, expect, it } from 'vitest'
import { compile } from '@nullet/core/compile/compile'
import { layOut } from '@nullet/core/run/layout'
import { Machine } from '@nullet/core/run/machine'
import { PlanStream, renderWhole } from '@nullet/core/run/stream'
import { letGo, takeOn } from '@nullet/core/run/team'
import { rows, type Session } from '@nullet/core/session/session'
import { Dice } from '@nullet/core/testing/generated'
import { noiseFor, processedNetwork } from '@nullet/core/testing/generatedSound'
import { times } from '@nullet/core/testing/lengths'
import { peak } from '@nullet/core/testing/sound'
import { helperPath, startRender } from './threads'

const FRAMES = 6000
const SIZE = { tracks: 24, submixes: 5, returns: 3, stems: 3, sends: 30, keys: 5, frames: FRAMES }
const optionsOf = (session: Session) => ({
  taps: rows(session, 'channel').map(c => ({ channel: c.id, tap: 'post' as const }))
})
const RANGE = { from: 0, frames: FRAMES }

async function onOne(session: Session) {
  const plan = compile(session, optionsOf(session))
  const sinks = await renderWhole(new PlanStream(plan, session, noiseFor(session)), RANGE)
  expect(Math.max(...[...sinks.values()].flat().map(peak))).toBeGreaterThan(0.1)
  return sinks
}

describe('a render on two threads', () => {
  it.each(Array.from({ length: times(6, 80) }, (_, i) => i + 1))('has the samples of one: network %i', async seed => {
    const session = processedNetwork(seed, SIZE)
    const two = startRender(session, noiseFor(session), optionsOf(session), 2)
    const sinks = await renderWhole(two.stream, RANGE)
    two.end()
    expect(sinks).toEqual(await onOne(session))
  })

  it('has them too where the helper comes and goes, at moments by seed', async () => {
    for (let seed = 1; seed <= times(3, 40); seed++) {
      const session = processedNetwork(seed, SIZE),
        dice = new Dice(seed),
        plan = compile(session, optionsOf(session)),
        machine = new Machine(plan.ops, layOut(plan.ops, { forTwo: true })),
        team = machine.forAnother!
      const helper = new Worker(helperPath!)
      const run = machine.run.bind(machine)
      machine.run = () => {
        if (dice.chance(0.1)) letGo(team)
        if (dice.chance(0.1)) {
          takeOn(team)
          helper.postMessage(team)
        }
        run()
      }
      const sinks = await renderWhole(new PlanStream(plan, session, noiseFor(session), machine), RANGE)
      letGo(team)
      await helper.terminate()
      expect(sinks).toEqual(await onOne(session))
    }
  })

  it('is helped by a thread that is kept, also where one before it was never ended', async () => {
    const DONE = 128
    for (let n = 0; n < 3; n++) {
      const session = processedNetwork(n + 1, SIZE),
        { stream } = startRender(session, noiseFor(session), optionsOf(session), 2)
      const { memory, at } = stream.machine.forAnother!,
        words = new Int32Array(memory.buffer)
      // Jobs of a level that the helper has done.
      while (!Atomics.load(words, (at + DONE) >> 2)) {
        await stream.block()
        await new Promise(setImmediate)
      }
    }
  })

  it('says that it failed where the helper fails in the middle of a job', () => {
    const session = processedNetwork(1, SIZE),
      { ops } = compile(session, optionsOf(session)),
      machine = new Machine(ops, layOut(ops, { forTwo: true }))
    const { memory, at } = machine.forAnother!
    // A thread that takes the first job and does not come back.
    const words = new Int32Array(memory.buffer)
    const taken = new Int32Array(new SharedArrayBuffer(4))
    const thief = new Worker(
      `const { workerData: { words, taken, row } } = require('node:worker_threads')
       const rows = new BigUint64Array(words.buffer)
       for (;;) {
         const now = Atomics.load(rows, row)
         if (now & 0xffffn) continue
         if (Atomics.compareExchange(rows, row, now, now + 1n) === now) break
       }
       Atomics.store(taken, 0, 1)`,
      { eval: true, workerData: { words, taken, row: at / 8 } }
    )
    Atomics.store(words, (at + 208) >> 2, 1)
    expect(() => {
      while (!Atomics.load(taken, 0)) machine.run()
      machine.run()
    }).toThrow('the thread that helps did not finish what it had begun')
    return thief.terminate()
  })
})

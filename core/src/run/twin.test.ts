// A machine that came from another one goes on as that would have, also where it has run on its own before.
import { describe, expect, it } from 'vitest'
import { compile } from '../compile/compile'
import { BLOCK, STAGE, type Op } from '../plan/operations'
import { PROCESSORS } from '../processors/table'
import { Sketch } from '../testing/sketch'
import { peak, whiteNoise } from '../testing/sound'
import { bringResponses } from './bringResponses'
import { Machine } from './machine'
import { MemoryMedia } from './memoryMedia'

/** One block of noise, or of silence. @returns all sinks' legs of that block */
function step(machine: Machine, ops: readonly Op[], seed: number | null): Float32Array[] {
  const at = machine.frame % 4096
  for (const { kind, key } of ops)
    if (kind === 'source')
      machine
        .stagingOf(key)
        .forEach((leg, i) =>
          leg.set(seed === null ? new Float32Array(BLOCK) : whiteNoise(BLOCK, seed + i, 0.4), at % STAGE)
        )
  machine.run()
  return ops
    .filter(op => op.kind === 'sink')
    .flatMap(op => machine.stagingOf(op.key).map(leg => leg.slice(at, at + BLOCK)))
}

describe('a twin', () => {
  it.each(Object.keys(PROCESSORS))('that has run ahead through %s is as new from where it comes', async id => {
    const k = new Sketch()
    k.bus('main', { role: 'main' })
    k.medium('m', 2, 100)
    k.slot(k.track('t', 'm'), id, id === 'limiter' ? { driveDb: 24 } : {})
    k.main('t', 'main')
    const { ops } = compile(k.session, { taps: [{ channel: 'main', tap: 'post' }] }),
      machine = new Machine(ops)
    await bringResponses(machine, ops, k.session, new MemoryMedia())
    step(machine, ops, null)
    const spare = machine.twin()
    for (let n = 0; n < 20; n++) step(spare, ops, n)
    const twin = machine.twin(spare)
    expect(twin).toBe(spare)
    let loudest = 0
    for (let n = 0; n < 200; n++) {
      const own = step(machine, ops, 100 + n)
      expect(step(twin, ops, 100 + n), `block ${n}`).toEqual(own)
      loudest = Math.max(loudest, ...own.map(peak))
    }
    expect(loudest).toBeGreaterThan(0.01)
  })
})

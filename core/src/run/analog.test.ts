import { describe, expect, it } from 'vitest'
import { compile } from '../compile/compile'
import { NullMeter } from '../measure/null'
import { returnTap, staged } from '../print/through'
import { tapKey } from '../compile/plan'
import { Sketch } from '../testing/sketch'
import { RATE, whiteNoise } from '../testing/sound'
import { isAnalog } from './analog'
import { MemoryMedia } from './memoryMedia'
import { PlanStream, renderWhole } from './stream'

const FRAMES = 8 * RATE
/** A track that goes out to a unit by itself, with a reverb of the computer's own before it. */
function room(model: string) {
  const k = new Sketch('Rolls')
  k.bus('main', { role: 'main' })
  k.medium('m', 1, FRAMES)
  k.track('t', 'm', { layout: ['M'] })
  k.main('t', 'main')
  k.slot('t', 'reverb', { decayS: 1 })
  k.rig('loft')
  k.interface('io', 'loft', 1, 1)
  k.unit('unit', 'loft', model)
  k.cable('loft', 'io-out-1', 'unit:0')
  k.cable('loft', 'unit:0', 'io-in-1')
  const through = {
    tap: 'post' as const,
    levelDb: 0,
    outPorts: ['io-out-1'],
    inPorts: ['io-in-1'],
    settings: {},
    instead: {}
  }
  return staged(k.session, [{ print: 'p', source: 't', through }])
}
async function printed(model: string, from: number, rolls: number | null): Promise<Float32Array> {
  const stage = room(model),
    tap = returnTap('p'),
    media = new MemoryMedia()
  media.set('m', [whiteNoise(FRAMES, 3, 0.1)])
  const stream = new PlanStream(compile(stage, { taps: [tap], seed: 5 }), stage, media)
  if (rolls !== null) stream.restUntil(Math.floor(rolls / 128) * 128)
  return (await renderWhole(stream, { from, frames: RATE / 2 })).get(tapKey(tap))![0]!
}
async function apart(model: string, from: number, rolls: number): Promise<number> {
  const meter = new NullMeter()
  meter.feed([await printed(model, from, null)], [await printed(model, from, rolls)])
  const { rmsDb, signalDb } = meter.read()
  return rmsDb - signalDb
}

describe('units that stand still until the pass rolls', () => {
  it('have nothing of before in them; the longer they have run, the less is lacking', async () => {
    const from = 6 * RATE
    const lacking: number[] = []
    for (const seconds of [0, 0.5, 1, 2]) lacking.push(await apart('spring', from, from - seconds * RATE))
    expect(lacking[0]).toBeGreaterThan(-12)
    for (let n = 1; n < lacking.length; n++) expect(lacking[n]).toBeLessThan(lacking[n - 1]! - 3)
    expect(lacking[3]).toBeLessThan(-25)
  })

  it('are as in a pass from the beginning where they roll from there', async () => {
    for (const model of ['spring', 'tube-amplifier', 'tape-deck'])
      expect(await printed(model, RATE, 0)).toEqual(await printed(model, RATE, null))
  })

  it('what has no memory is the same after its filters have settled; noise goes on as it was', async () => {
    const from = 4 * RATE
    expect(await apart('tube-amplifier', from, from - RATE)).toBeLessThan(-100)
  })

  it('leave what is inside the computer as it is', () => {
    const { ops } = compile(room('spring'), { taps: [returnTap('p'), { channel: 't', tap: 'post' }], seed: 5 })
    const inside = compile(room('spring'), { taps: [{ channel: 't', tap: 'post' }], seed: 5 }).ops
    const analog = ops.filter(isAnalog).map(o => o.key)
    expect(analog.some(key => key.startsWith('unit/unit'))).toBe(true)
    expect(inside.some(isAnalog)).toBe(false)
    expect(ops.filter(isAnalog).some(o => o.kind === 'noise')).toBe(false)
  })
})

// Reverb by impulse response: against direct convolution, its own decay, and with responses that cannot be used.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { compile } from '../compile/compile'
import { Machine } from '../run/machine'
import { MemoryMedia } from '../run/memoryMedia'
import { PlanStream } from '../run/stream'
import { difference, impulse, peak, renderTaps, rmsDb, whiteNoise } from '../testing/sound'
import { fingerprint } from '../print/fingerprint'
import { sessionFrames } from '../graph/sessionLength'
import type { Params } from '../session/rows'
import { Sketch } from '../testing/sketch'
import { makeResponse, RESPONSES } from './responses'

const PLAIN = { lowCutHz: 10, highCutHz: 20000 }
const TAP = { channel: 't', tap: 'pre' as const }

function sketch(params: Params, frames: number, response: Float32Array[] | null, rate = 48000) {
  const k = new Sketch('test', { sampleRate: rate })
  k.medium('x', 2, frames)
  if (response) k.medium('ir', response.length, response[0].length, { sha256: 'a' })
  k.track('t', 'x')
  k.slot('t', 'convolution', { ...PLAIN, ...(response && { response: 'ir' }), ...params }, { id: 'slot' })
  return k
}
async function through(
  params: Params,
  x: Float32Array[],
  response: Float32Array[] | null,
  rate = 48000,
  from = 0,
  frames = x[0].length
) {
  const k = sketch(params, x[0].length, response, rate)
  return (
    await renderTaps(k.session, { x, ...(response && { ir: response }) }, frames, { taps: [TAP] }, undefined, from)
  ).get('t@pre')!
}

/** y[n] = Σ h[k]·x[n − k] in float64, with the response at unit energy. */
function direct(x: Float32Array, h: Float32Array, energy: number): Float64Array {
  const y = new Float64Array(x.length),
    g = 1 / Math.sqrt(energy)
  for (let k = 0; k < Math.min(h.length, x.length); k++) {
    const c = h[k] * g
    for (let n = k; n < x.length; n++) y[n] += c * x[n - k]
  }
  return y
}
const energyOf = (legs: Float32Array[]) => Math.max(...legs.map(l => l.reduce((s, v) => s + v * v, 0)))
/** A low and a high cut as far away as they go still turn phases: they are measured with a response of one sample. */
const cutsAlone = (x: Float32Array[], rate = 48000) => through({}, x, [Float32Array.of(1), Float32Array.of(1)], rate)

describe('against direct convolution', () => {
  it.each([1, 2, 127, 128, 129, 1023, 1024, 1025, 8191, 8192, 8193, 20000])(
    'a response of %i samples, within −120 dB',
    async length => {
      const h = [whiteNoise(length, 7), whiteNoise(length, 8)],
        x = [whiteNoise(26000, 1), whiteNoise(26000, 2)]
      const y = await through({}, x, h)
      // The cuts are linear: convolving what they leave is what they leave of the convolution.
      const through2 = await cutsAlone(x)
      y.forEach((leg, i) =>
        expect(rmsDb(difference(leg, direct(through2[i], h[i], energyOf(h)))) - rmsDb(leg)).toBeLessThan(-120)
      )
    }
  )

  it.each([44100, 48000, 96000])('at %i Hz with the cuts where they are set', async rate => {
    const h = [whiteNoise(3000, 3, 0.2), whiteNoise(3000, 4, 0.2)],
      x = [impulse(9000, 100), impulse(9000, 100)]
    const y = await through({ lowCutHz: 200, highCutHz: 5000 }, x, h, rate)
    const shapedX = await through({ lowCutHz: 200, highCutHz: 5000 }, x, [Float32Array.of(1), Float32Array.of(1)], rate)
    expect(rmsDb(difference(y[0], direct(shapedX[0], h[0], energyOf(h)))) - rmsDb(y[0])).toBeLessThan(-115)
  })

  it('a mono response serves every leg; pre-delay comes before it', async () => {
    const h = whiteNoise(500, 5),
      x = [whiteNoise(6000, 1), whiteNoise(6000, 2)]
    const [y, late] = [await through({}, x, [h]), await through({ preDelayMs: 10 }, x, [h])]
    const base = await cutsAlone(x)
    y.forEach((leg, i) =>
      expect(rmsDb(difference(leg, direct(base[i], h, energyOf([h])))) - rmsDb(leg)).toBeLessThan(-120)
    )
    expect(rmsDb(difference(late[0].subarray(480), y[0].subarray(0, 5520)))).toBeLessThan(-125)
  })
})

describe('responses made by code', () => {
  it.each(Object.keys(RESPONSES).flatMap(id => [44100, 96000].map(rate => [id, rate] as const)))(
    '%s at %i Hz dies away as it says',
    (id, rate) => {
      const [h] = makeResponse(id, rate)
      // Schroeder's backward integral between −5 and −25 dB, in the middle band.
      const [low, high] = [1 - Math.exp((-2 * Math.PI * 400) / rate), 1 - Math.exp((-2 * Math.PI * 2500) / rate)]
      let slow = 0,
        fast = 0
      const band = h.map(v => {
        slow += low * (v - slow)
        fast += high * (v - fast)
        return fast - slow
      })
      const left = new Float64Array(band.length)
      for (let n = band.length - 1, sum = 0; n >= 0; n--) {
        sum += band[n] ** 2
        left[n] = 10 * Math.log10(sum)
      }
      const at = (db: number) => left.findIndex(v => v < left[0] + db)
      const t60 = ((at(-25) - at(-5)) / rate) * 3
      expect(t60).toBeGreaterThan(RESPONSES[id].decay[1] * 0.85)
      expect(t60).toBeLessThan(RESPONSES[id].decay[1] * 1.15)
    }
  )

  it('noise comes out about as loud as it goes in, and the legs differ', async () => {
    const x = [whiteNoise(48000, 1), whiteNoise(48000, 1)]
    const y = await through({ response: 'studio' }, x, null)
    expect(Math.abs(rmsDb(y[0].subarray(24000)) - rmsDb(x[0]))).toBeLessThan(3)
    expect(rmsDb(difference(y[0], y[1]))).toBeGreaterThan(rmsDb(y[0]) - 10)
  })
})

describe('as a part of the engine', () => {
  const x = [whiteNoise(40000, 1), whiteNoise(40000, 2)]
  it('the same samples in any part, after a state is restored, and when another machine takes over', async () => {
    const whole = await through({ response: 'chapel' }, x, null)
    expect((await through({ response: 'chapel' }, x, null, 48000, 21001, 9000))[0]).toEqual(
      whole[0].slice(21001, 30001)
    )
    const k = sketch({ response: 'chapel' }, 40000, null)
    const media = new MemoryMedia().set('x', x),
      plan = compile(k.session, { taps: [TAP] })
    let stream = new PlanStream(plan, k.session, media)
    stream.start(0)
    for (let n = 0; n < 100; n++) await stream.block()
    const saved = stream.machine.save()
    for (let n = 0; n < 20; n++) await stream.block()
    stream.machine.restore(saved)
    stream.start(saved.frame)
    await stream.block()
    expect([...stream.last('sink/t@pre')[0]]).toEqual([...whole[0].subarray(12800, 12928)])
    const next = new Machine(compile(k.session, { taps: [TAP] }).ops)
    next.takeOver(stream.machine)
    stream = new PlanStream(plan, k.session, media, next)
    await stream.block()
    expect([...stream.last('sink/t@pre')[0]]).toEqual([...whole[0].subarray(12928, 13056)])
  })

  it('ends where it is told to, and the session keeps its tail', async () => {
    const short = await through(
      { response: 'dome', endS: 0.1, lowCutHz: 200 },
      [impulse(12000, 0), impulse(12000, 0)],
      null
    )
    expect(peak(short[0].subarray(0, 4000))).toBeGreaterThan(0.01)
    expect(rmsDb(short[0].subarray(6000))).toBeLessThan(-90)
    expect(sessionFrames(sketch({ response: 'dome', endS: 0.5 }, 1000, null).session)).toBe(1000 + 24000)
  })

  it.each([
    ['silence', 0],
    ['denormals', 1e-41],
    ['full scale', 1]
  ])('%s gives finite sound', async (_, level) => {
    const y = await through(
      { response: 'studio' },
      [new Float32Array(20000).fill(level), new Float32Array(20000).fill(level)],
      null
    )
    expect(y[0].every(Number.isFinite)).toBe(true)
    if (level < 1) expect(peak(y[0])).toBe(0)
  })

  it('another response under the same id is another fingerprint', () => {
    const k = sketch({}, 100, [new Float32Array(10).fill(1)])
    const of = () => fingerprint(k.session, 't', 'pre', { seed: 1, from: 0, frames: 9 }).hash
    const before = of()
    k.session.medium.ir.sha256 = 'b'
    expect(of()).not.toBe(before)
  })
})

describe('responses that cannot be used', () => {
  it('one that is missing, empty or ten minutes long is refused by name', () => {
    const k = sketch({}, 100, [new Float32Array(10)])
    k.medium('long', 1, 48000 * 600, { name: 'Ten minutes' })
    k.medium('none', 1, 0, { name: 'Nothing' })
    const set = (response: string) => () =>
      applyEdit(k.session, { verb: 'setSlot', args: { id: 'slot', fields: { params: { response } } } })
    expect(set('gone')).toThrow(/no impulse response “gone”/)
    expect(set('long')).toThrow(/“Ten minutes” is 600.0 s long/)
    expect(set('none')).toThrow(/“Nothing” is 0.0 s long/)
    expect(set('ir')).not.toThrow()
  })
  it('a stored one that has gone is silence in the wet path, the dry path stays', async () => {
    const k = sketch({ response: 'gone' }, 2000, null)
    k.session.slot.slot.mix = 0.5
    const x = [whiteNoise(2000, 1), whiteNoise(2000, 2)]
    const [y] = (await renderTaps(k.session, { x }, 2000, { taps: [TAP] })).get('t@pre')!
    expect(
      peak(
        difference(
          y,
          x[0].map(v => v / 2)
        )
      )
    ).toBeLessThan(1e-6)
  })
})

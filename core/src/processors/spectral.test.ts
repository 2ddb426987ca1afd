// Spectral keying against the same written out plainly, and by what it is for: rhythm and chosen bands of the key.
import { describe, expect, it } from 'vitest'
import { difference, peak, renderTaps, rmsDb, sine, whiteNoise } from '../testing/sound'
import type { Params } from '../session/rows'
import { Sketch } from '../testing/sketch'
import { complete } from './processor'
import { bandsOf, spectralKeying } from './spectral'

async function keyed(
  params: Params,
  carrier: Float32Array[],
  key: Float32Array,
  rate = 48000
): Promise<Float32Array[]> {
  const k = new Sketch('x', { sampleRate: rate })
  k.medium('c', carrier.length, carrier[0].length)
  k.medium('k', 1, key.length)
  k.track('t', 'c')
  k.track('key', 'k')
  k.key('key', k.slot('t', 'spectral', params))
  return (
    await renderTaps(k.session, { c: carrier, k: [key] }, carrier[0].length, { taps: [{ channel: 't', tap: 'post' }] })
  ).get('t@post')!
}

/** Direct form, float64, no blocks. The key's single leg is placed in every leg of the channel and averaged again. */
function plainly(
  params: Params,
  carrier: Float32Array,
  key: Float32Array,
  rate: number,
  keyGain: number
): Float64Array {
  const p = complete(spectralKeying.parameters, params) as Record<string, number>
  const out = new Float64Array(carrier.length)
  const pass = (x: ArrayLike<number>, hz: number, q: number) => {
    const w = (2 * Math.PI * hz) / rate,
      alpha = Math.sin(w) / (2 * q),
      y = new Float64Array(x.length)
    for (let n = 0; n < x.length; n++)
      y[n] =
        (alpha * (x[n] - (x[n - 2] ?? 0)) + 2 * Math.cos(w) * (y[n - 1] ?? 0) - (1 - alpha) * (y[n - 2] ?? 0)) /
        (1 + alpha)
    return y
  }
  const a = Math.exp(-1000 / (p.attackMs * rate)),
    r = Math.exp(-1000 / (p.releaseMs * rate))
  for (const b of bandsOf(p)) {
    if (b.synthesisHz > 0.47 * rate) continue
    const level = pass(
        pass(
          key.map(v => v * keyGain),
          b.analysisHz,
          b.q
        ),
        b.analysisHz,
        b.q
      ),
      sound = pass(pass(carrier, b.synthesisHz, b.q), b.synthesisHz, b.q)
    let e = 0
    for (let n = 0; n < out.length; n++) {
      const m = Math.abs(level[n]),
        c = m > e ? a : r
      e = c * e + (1 - c) * m
      out[n] += sound[n] * e * 10 ** (p.gainDb / 20)
    }
  }
  return out
}

describe.each([44100, 48000, 96000])('spectral keying at %i Hz', rate => {
  it.each([
    {},
    { bands: '40', shift: 7, stretch: 80 },
    { bands: '8', lowHz: 200, highHz: 12000, shift: 24, attackMs: 0.1 }
  ] as Params[])('is what its formula says, %o', async params => {
    const carrier = whiteNoise(12000, 3, 0.5),
      key = Float32Array.from(whiteNoise(12000, 4, 0.5), (v, n) => (n % 4000 < 1200 ? v : 0))
    const [out] = await keyed(params, [carrier], key, rate)
    expect(rmsDb(difference(out, plainly(params, carrier, key, rate, 1))) - rmsDb(out)).toBeLessThan(-110)
  })
})

describe('spectral keying', () => {
  const power = (x: Float32Array, hz: number) => {
    let re = 0,
      im = 0
    for (let n = 8000; n < x.length; n++) {
      re += x[n] * Math.cos((2 * Math.PI * hz * n) / 48000)
      im += x[n] * Math.sin((2 * Math.PI * hz * n) / 48000)
    }
    return 20 * Math.log10(Math.hypot(re, im))
  }
  const chord = Float32Array.from({ length: 48000 }, (_, n) =>
    [250, 1000, 4000].reduce((s, hz) => s + 0.2 * Math.sin((2 * Math.PI * hz * n) / 48000), 0)
  )

  it('lets through of the carrier what the key has, and moves it by its shift', async () => {
    const tone = sine(48000, 1000, 0.5)
    const [same] = await keyed({}, [chord], tone),
      [up] = await keyed({ shift: 24 }, [chord], tone)
    for (const hz of [250, 4000]) expect(power(same, 1000) - power(same, hz)).toBeGreaterThan(25)
    for (const hz of [250, 1000]) expect(power(up, 4000) - power(up, hz)).toBeGreaterThan(20)
  })

  it('follows the rhythm of its key, and is silent without one', async () => {
    const beat = Float32Array.from(whiteNoise(48000, 9), (v, n) => (n % 12000 < 2400 ? v : 0))
    const [out] = await keyed({ releaseMs: 20 }, [chord], beat)
    for (const at of [12000, 24000, 36000])
      expect(rmsDb(out.subarray(at + 600, at + 2200)) - rmsDb(out.subarray(at + 9000, at + 11500))).toBeGreaterThan(30)
    expect(peak((await keyed({}, [chord], new Float32Array(48000)))[0])).toBe(0)
  })

  it('shapes every leg of a stereo carrier by the same key', async () => {
    const [l, r] = await keyed({}, [chord, chord], whiteNoise(48000, 5))
    expect(l).toEqual(r)
  })
})

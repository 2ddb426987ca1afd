// Every processor against its formula, through the whole engine.
import { bandCentres } from './reverb'
import { describe, expect, it } from 'vitest'
import { impulse, peak, renderTaps, rmsDb, sine, whiteNoise } from '../testing/sound'
import { spectrum } from '../measure/spectrum'
import type { Params } from '../session/rows'
import { Sketch } from '../testing/sketch'
import { band, responseDb } from './biquad'
import { staticCurve } from './compressor'
import { complete } from './processor'
import { PROCESSORS } from './table'

async function through(
  processor: string,
  params: Params,
  x: Float32Array[],
  rate = 48000,
  fields = {}
): Promise<Float32Array[]> {
  const k = new Sketch('test', { sampleRate: rate })
  k.medium('x', x.length, x[0].length)
  k.track('t', 'x')
  k.slot('t', processor, params, fields)
  return (await renderTaps(k.session, { x }, x[0].length, { taps: [{ channel: 't', tap: 'pre' }] })).get('t@pre')!
}

const SIZE = 65536
/** Magnitude in dB at a frequency of a bin. */
async function measured(params: Params, rate: number) {
  const h = spectrum((await through('equaliser', params, [impulse(SIZE, 0)], rate))[0], SIZE)
  return (hz: number) => {
    const k = Math.round((hz / rate) * SIZE)
    return { hz: (k * rate) / SIZE, db: 10 * Math.log10(h[2 * k] ** 2 + h[2 * k + 1] ** 2) }
  }
}

/** The cookbook written out again in its own words: H(z) of a bell from A, w0, alpha. */
function cookbookBell(f: number, f0: number, gain: number, q: number, rate: number): number {
  const A = 10 ** (gain / 40),
    w0 = (2 * Math.PI * f0) / rate,
    alpha = Math.sin(w0) / (2 * q)
  const phi = Math.sin((Math.PI * f) / rate) ** 2
  const power = (b0: number, b1: number, b2: number) =>
    (b0 + b1 + b2) ** 2 - 4 * (b0 * b1 + 4 * b0 * b2 + b1 * b2) * phi + 16 * b0 * b2 * phi ** 2
  return (
    10 *
    Math.log10(
      power(1 + alpha * A, -2 * Math.cos(w0), 1 - alpha * A) / power(1 + alpha / A, -2 * Math.cos(w0), 1 - alpha / A)
    )
  )
}

describe.each([44100, 48000, 96000])('equaliser at %i Hz', rate => {
  it('a bell is within 0.01 dB of the cookbook', async () => {
    const at = await measured({ kind1: 'bell', hz1: 1234, db1: 7.5, q1: 2 }, rate)
    for (const hz of [60, 400, 1000, 1234, 1800, 5000, 15000]) {
      const m = at(hz)
      expect(Math.abs(m.db - cookbookBell(m.hz, 1234, 7.5, 2, rate))).toBeLessThan(0.01)
    }
  })

  it('shelves and notches follow their coefficients, and shelves reach their gain', async () => {
    const at = await measured(
      { kind1: 'low shelf', hz1: 200, db1: -6, q1: 0.7, kind2: 'high shelf', hz2: 6000, db2: 4, q2: 0.7 },
      rate
    )
    const sections = [band('low shelf', 200, -6, 0.7, rate), band('high shelf', 6000, 4, 0.7, rate)]
    for (const hz of [30, 150, 900, 4000, 12000]) {
      const m = at(hz)
      expect(Math.abs(m.db - responseDb(sections, m.hz, rate))).toBeLessThan(0.01)
    }
    expect(at(10).db).toBeCloseTo(-6, 1)
    expect(at(rate * 0.49).db).toBeCloseTo(4, 1)
    expect((await measured({ kind1: 'notch', hz1: 1000, q1: 1 }, rate))(1000).db).toBeLessThan(-30)
  })

  it.each(['6', '12', '18', '24', '36', '48'])(
    'a cut of %s dB/oct is Butterworth: −3.01 dB at its corner, its slope below',
    async slope => {
      const at = await measured({ lowCutSlope: slope, lowCutHz: 1000, highCutSlope: slope, highCutHz: 9000 }, rate)
      // Magnitude of an order-n Butterworth after the bilinear transform, from the warped frequencies.
      const order = Number(slope) / 6,
        warp = (f: number) => Math.tan((Math.PI * f) / rate)
      for (const hz of [300, 500, 1000, 3000, 9000, 14000]) {
        const m = at(hz)
        const low = -10 * Math.log10(1 + (warp(1000) / warp(m.hz)) ** (2 * order))
        const high = -10 * Math.log10(1 + (warp(m.hz) / warp(9000)) ** (2 * order))
        expect(Math.abs(m.db - low - high)).toBeLessThan(0.01)
      }
    }
  )
})

describe.each([44100, 48000, 96000])('compressor at %i Hz', rate => {
  const base = { attackMs: 5, releaseMs: 50, thresholdDb: -20, ratio: 4, kneeDb: 6 }

  it('follows its static curve within 0.1 dB', async () => {
    const params = complete(PROCESSORS.compressor.parameters, { ...base, attackMs: 0, releaseMs: 5000, makeupDb: 2 })
    for (const db of [-40, -24, -22, -20, -18, -10, 0]) {
      // A square wave has a steady magnitude, so a peak detector is steady too.
      const level = 10 ** (db / 20)
      const x = Float32Array.from({ length: 8192 }, (_, n) => (n % 48 < 24 ? level : -level))
      const y = (await through('compressor', params, [x], rate))[0]
      expect(Math.abs(20 * Math.log10(Math.abs(y[8000])) - staticCurve(db, params))).toBeLessThan(0.1)
    }
    // The curve itself, in words: nothing below the knee, 1/ratio above it.
    expect(staticCurve(-40, params)).toBeCloseTo(-38, 6)
    expect(staticCurve(0, params)).toBeCloseTo(-20 + 20 / 4 + 2, 6)
    expect(staticCurve(-20, params)).toBeCloseTo(-20 - ((1 - 1 / 4) * 9) / 12 + 2, 6)
  })

  it('covers 63 % of a dB step in its attack and release times, within 5 %', async () => {
    const params = { ...base, kneeDb: 0, attackMs: 20, releaseMs: 80 }
    const step = Math.round(rate * 0.5)
    const x = Float32Array.from(
      { length: step * 3 },
      (_, n) => (n % 2 ? 1 : -1) * (n >= step && n < 2 * step ? 1 : 0.01)
    )
    const y = (await through('compressor', params, [x], rate))[0]
    const gainDb = (n: number) => 20 * Math.log10(Math.abs(y[n] / x[n]))
    const reach = (from: number, fraction: number, start: number, end: number) => {
      for (let n = from; ; n++)
        if (Math.abs(gainDb(n) - start) >= fraction * Math.abs(end - start)) return ((n - from) * 1000) / rate
    }
    const part = 1 - Math.exp(-1)
    expect(Math.abs(reach(step, part, 0, -15) / 20 - 1)).toBeLessThan(0.05)
    expect(Math.abs(reach(2 * step, part, -15, 0) / 80 - 1)).toBeLessThan(0.05)
  })
})

/** Seconds for 60 dB: the slope of Schroeder's backward integral between −5 and −35 dB, doubled. */
function slopeS(y: Float32Array, rate: number): number {
  let sum = 0
  const energy = new Float64Array(y.length)
  for (let n = y.length - 1; n >= 0; n--) energy[n] = sum += y[n] ** 2
  const when = (db: number) => energy.findIndex(e => 10 * Math.log10(e / energy[0]) < db) / rate
  return (when(-35) - when(-5)) * 2
}

/** Two resonators half an octave wide, run backwards so that their own ringing comes before the decay. */
function bandPassed(y: Float32Array, hz: number, rate: number): Float32Array {
  const w = (2 * Math.PI * Math.min(hz, rate * 0.4)) / rate,
    alpha = Math.sin(w) / (2 * 2.87)
  const once = (x: Float32Array) => {
    let x1 = 0,
      x2 = 0,
      y1 = 0,
      y2 = 0
    return x.map(v => {
      const out = (alpha * (v - x2) + 2 * Math.cos(w) * y1 - (1 - alpha) * y2) / (1 + alpha)
      ;[x2, x1, y2, y1] = [x1, v, y1, out]
      return out
    })
  }
  return once(once(y.slice().reverse())).reverse()
}

describe('reverb', () => {
  it.each([
    [0.5, 48000],
    [1.5, 48000],
    [3, 44100],
    [1.2, 96000]
  ])('decays by 60 dB in %s s at %i Hz, within 10 %%', async (decay, rate) => {
    const frames = Math.round(decay * 1.6 * rate)
    const [y] = await through(
      'reverb',
      { decayS: decay, lowDecay: 100, highDecay: 100, preDelayMs: 0 },
      [impulse(frames, 0), impulse(frames, 0)],
      rate
    )
    expect(Math.abs(slopeS(y, rate) / decay - 1)).toBeLessThan(0.1)
  })

  it.each([
    { decayS: 2, lowDecay: 100, highDecay: 20, lowHz: 220, highHz: 4500, rate: 48000, size: 80 },
    { decayS: 2, lowDecay: 200, highDecay: 40, lowHz: 220, highHz: 4500, rate: 44100, size: 80 },
    { decayS: 3, lowDecay: 40, highDecay: 20, lowHz: 500, highHz: 2000, rate: 44100, size: 50 },
    { decayS: 6, lowDecay: 25, highDecay: 100, lowHz: 220, highHz: 4500, rate: 48000, size: 60 },
    { decayS: 4, lowDecay: 200, highDecay: 40, lowHz: 300, highHz: 3000, rate: 96000, size: 100 },
    { decayS: 0.8, lowDecay: 110, highDecay: 45, lowHz: 220, highHz: 4500, rate: 48000, size: 30 }
  ])('decays in each band as it is set, within 10 %: $lowDecay, 100, $highDecay %', async ({ rate, ...set }) => {
    const frames = Math.round(set.decayS * 1.6 * rate)
    const legs = [impulse(frames, 0), new Float32Array(frames)]
    const [y] = await through('reverb', { ...set, preDelayMs: 0 }, legs, rate)
    const bands = bandCentres(set.lowHz, set.highHz, rate).map((hz, i) => ({
      hz,
      decay: (set.decayS * [set.lowDecay, 100, set.highDecay][i]) / 100
    }))
    for (const { hz, decay } of bands)
      expect(Math.abs(slopeS(bandPassed(y, hz, rate), rate) / decay - 1), `${Math.round(hz)} Hz`).toBeLessThan(0.1)
  })

  it.each([0, 20, 250])('lets its first sound through after a pre-delay of %d ms', async preDelayMs => {
    const [y] = await through('reverb', { preDelayMs, size: 100 }, [impulse(20000, 100), new Float32Array(20000)])
    expect(y.findIndex(v => v !== 0)).toBe(100 + preDelayMs * 48)
  })

  it('gives both legs the same energy and little in common', async () => {
    const [l, r] = await through('reverb', {}, [impulse(48000, 0), impulse(48000, 0)])
    expect(Math.abs(rmsDb(l) - rmsDb(r))).toBeLessThan(1.5)
    let dot = 0,
      a = 0,
      b = 0
    l.forEach((x, n) => {
      dot += x * r[n]
      a += x * x
      b += r[n] * r[n]
    })
    expect(Math.abs(dot / Math.sqrt(a * b))).toBeLessThan(0.3)
  })
})

describe.each([44100, 48000, 96000])('delay at %i Hz', rate => {
  it('repeats at its time, each by its feedback lower', async () => {
    const [y] = await through(
      'delay',
      { timeMs: 10, feedback: 50, lowCutHz: 10, highCutHz: 20000 },
      [impulse(6000, 0)],
      rate
    )
    const d = rate / 100
    expect(y[d]).toBeCloseTo(1, 5)
    expect(peak(y.subarray(0, d))).toBe(0)
    const second = y.slice(2 * d - 20, 2 * d + 40).reduce((s, v) => s + v, 0)
    expect(second).toBeGreaterThan(0.4)
    expect(second).toBeLessThan(0.52)
  })
})

describe('silence and extremes', () => {
  const extreme = {
    equaliser: { kind1: 'bell', db1: 24, q1: 30 },
    compressor: { ratio: 100, attackMs: 0 },
    delay: { feedback: 98 },
    reverb: { decayS: 12 }
  } as Record<string, Params>
  it.each(Object.keys(PROCESSORS))('%s stays silent on silence and finite on full-scale noise', async id => {
    expect(peak((await through(id, extreme[id], [new Float32Array(4096), new Float32Array(4096)]))[0])).toBeLessThan(
      1e-9
    )
    const loud = await through(id, extreme[id], [whiteNoise(20000, 1, 1), whiteNoise(20000, 2, 1)])
    expect(loud[0].every(Number.isFinite)).toBe(true)
  })

  it.each(Object.keys(PROCESSORS))('%s leaves no denormals behind in a long tail', async id => {
    const x = new Float32Array(96000)
    x.set(sine(200, 1000, 1e-3))
    const [y] = await through(
      id,
      { ...extreme[id], ...(id === 'reverb' ? { decayS: 0.2 } : id === 'delay' ? { feedback: 30, timeMs: 5 } : {}) },
      [x, x]
    )
    expect(y.subarray(-4096).every(v => v === 0 || Math.abs(v) > 1e-30)).toBe(true)
  })
})

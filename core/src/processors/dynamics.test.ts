// Gate, ducker, limiter, saturation, tremolo, width: against formulas, and an interpolation of their own for true
// peaks.
import { describe, expect, it } from 'vitest'
import { difference, peak, renderTaps, rmsDb, sine, whiteNoise } from '../testing/sound'
import type { Params } from '../session/rows'
import { Sketch } from '../testing/sketch'

/** One track through one slot; a second one as its key. Latency is taken off by the render. */
async function through(
  processor: string,
  params: Params,
  legs: Float32Array[],
  rate = 48000,
  key?: Float32Array
): Promise<Float32Array[]> {
  const k = new Sketch('x', { sampleRate: rate })
  const frames = legs[0].length
  k.medium('m', legs.length, frames)
  k.track('t', 'm')
  const slot = k.slot('t', processor, params)
  const media: Record<string, Float32Array[]> = { m: legs }
  if (key) {
    k.medium('k', 1, frames)
    k.track('key', 'k')
    k.key('key', slot)
    media.k = [key]
  }
  return (await renderTaps(k.session, media, frames, { taps: [{ channel: 't', tap: 'post' }] })).get('t@post')!
}
const level = (x: Float32Array, from: number, to: number) => rmsDb(x.subarray(from, to))
const db = (x: number) => 20 * Math.log10(x)

/**
 * Highest value of the band-limited signal between its samples, by direct sinc sums over ±200 samples, 16 places a
 * sample.
 */
function truePeak(x: Float32Array): number {
  let top = peak(x)
  for (let n = 200; n < x.length - 200; n++) {
    if (Math.max(Math.abs(x[n]), Math.abs(x[n + 1])) < top * 0.75) continue
    for (let p = 1; p < 16; p++) {
      const at = p / 16
      let y = 0
      for (let k = -199; k <= 200; k++) {
        const d = at - k
        y += ((x[n + k] * Math.sin(Math.PI * d)) / (Math.PI * d)) * (0.5 + 0.5 * Math.cos((Math.PI * d) / 201))
      }
      top = Math.max(top, Math.abs(y))
    }
  }
  return top
}

/** Sixteen places a sample by a Kaiser window (β = 5) over ten samples each side: not the limiter’s own meter. */
function polyphasePeak(x: Float32Array): number {
  const bessel = (v: number) => {
    let sum = 1,
      term = 1
    for (let k = 1; k < 30; k++) sum += term *= (v / (2 * k)) ** 2
    return sum
  }
  const tap = (d: number) =>
    Math.abs(d) >= 10
      ? 0
      : ((d === 0 ? 1 : Math.sin(Math.PI * d) / (Math.PI * d)) * bessel(5 * Math.sqrt(1 - (d / 10) ** 2))) / bessel(5)
  let top = peak(x)
  for (let p = 1; p < 16; p++) {
    const taps = Array.from({ length: 20 }, (_, k) => tap(p / 16 - (k - 9)))
    for (let n = 9; n < x.length - 11; n++) {
      let y = 0
      for (let k = 0; k < 20; k++) y += x[n + k - 9] * taps[k]
      top = Math.max(top, Math.abs(y))
    }
  }
  return top
}

describe.each([44100, 48000, 96000])('gate at %i Hz', rate => {
  it('takes what is under its threshold down by its range, and lets the rest through', async () => {
    const quiet = sine(rate, 500, 0.004, rate),
      loud = sine(rate, 500, 0.2, rate)
    const params = { thresholdDb: -30, rangeDb: 40, holdMs: 10, releaseMs: 5 }
    const closed = await through('gate', params, [quiet], rate),
      open = await through('gate', params, [loud], rate)
    expect(level(closed[0], rate / 2, rate) - level(quiet, rate / 2, rate)).toBeCloseTo(-40, 2)
    expect(rmsDb(difference(open[0].subarray(rate / 2), loud.subarray(rate / 2)))).toBeLessThan(-140)
  })

  it('opens at the threshold and closes only under its hysteresis', async () => {
    // −33 dBFS lies between closing (−36) and opening (−30).
    const between = 10 ** (-33 / 20),
      x = sine(rate, 500, between, rate)
    for (let n = 0; n < rate / 4; n++) x[n] *= 10 ** (6 / 20)
    const params = { thresholdDb: -30, hysteresisDb: 6, rangeDb: 60, holdMs: 5 }
    expect(level((await through('gate', params, [x], rate))[0], rate / 2, rate) - level(x, rate / 2, rate)).toBeCloseTo(
      0,
      2
    )
    expect(
      level((await through('gate', params, [sine(rate, 500, between, rate)], rate))[0], rate / 2, rate) -
        level(x, rate / 2, rate)
    ).toBeCloseTo(-60, 1)
  })

  it('covers 63 % of its range in its release time after the hold, within 5 %', async () => {
    const x = new Float32Array(rate).fill(0.01)
    x.fill(0.5, 0, rate / 4)
    const out = (await through('gate', { thresholdDb: -20, rangeDb: 40, holdMs: 50, releaseMs: 100 }, [x], rate))[0]
    const at = out.findIndex((v, n) => n > rate / 4 && db(v / 0.01) < -40 * (1 - Math.exp(-1)))
    expect((((at - rate / 4) / rate) * 1000) / 150).toBeGreaterThan(0.95)
    expect((((at - rate / 4) / rate) * 1000) / 150).toBeLessThan(1.05)
  })
})

describe.each([44100, 48000, 96000])('ducker at %i Hz', rate => {
  it('lowers by its depth while the key is over the threshold, and comes back', async () => {
    const s = (rate / 96000) * 2,
      at = (n: number) => Math.round(n * s)
    const key = new Float32Array(at(96000))
    key.set(sine(at(24000), 200, 0.3, rate), at(24000))
    const x = sine(at(96000), 1000, 0.25, rate)
    const out = (
      await through('ducker', { thresholdDb: -30, depthDb: 12, attackMs: 5, holdMs: 20, releaseMs: 50 }, [x], rate, key)
    )[0]
    for (const [from, to, want] of [
      [4800, 23000, 0],
      [30000, 47000, -12],
      [80000, 95000, 0]
    ])
      expect(level(out, at(from), at(to)) - level(x, at(from), at(to))).toBeCloseTo(want, 1)
  })
})

describe.each([44100, 48000, 96000])('limiter at %i Hz', rate => {
  it('never lets a true peak over its ceiling by more than 0.1 dB, judged by long sinc sums', async () => {
    const burst = sine(6000, rate / 4.37, 0.9, rate)
    const x = Float32Array.from(
      { length: 6000 },
      (_, n) =>
        (burst[n] + (n > 2500 && n < 2600 ? 1.2 * Math.sin(n * n * 0.003) : 0)) *
        (n < 300 ? n / 300 : n > 5700 ? (6000 - n) / 300 : 1)
    )
    for (const ceilingDb of [-1, -12]) {
      const out = (await through('limiter', { ceilingDb, driveDb: 6, releaseMs: 20 }, [x], rate))[0]
      expect(db(truePeak(out))).toBeLessThan(ceilingDb + 0.1)
      expect(db(truePeak(out))).toBeGreaterThan(ceilingDb - 0.3)
    }
  })

  it.each([0.5, 2])('holds full-band noise driven by 24 dB with a look-ahead of %d ms', async lookAheadMs => {
    const [out] = await through(
      'limiter',
      { ceilingDb: -1, driveDb: 24, lookAheadMs, releaseMs: 5 },
      [whiteNoise(60000, 7, 1)],
      rate
    )
    const top = db(polyphasePeak(out))
    expect(top).toBeLessThan(-1 + 0.1)
    expect(top).toBeGreaterThan(-1 - 0.3)
  })

  it('leaves alone what stays under it, to the sample', async () => {
    const x = sine(9000, 700, 0.3, rate)
    expect(await through('limiter', { ceilingDb: -6 }, [x], rate)).toEqual([x])
  })
})

describe('limiter', () => {
  it('limits all legs by one gain', async () => {
    const loud = sine(9000, 700, 1),
      soft = sine(9000, 300, 0.1)
    const [l, r] = await through('limiter', { ceilingDb: -6 }, [loud, soft])
    expect(level(r, 4000, 8000) - level(soft, 4000, 8000)).toBeCloseTo(
      level(l, 4000, 8000) - level(loud, 4000, 8000),
      1
    )
  })
})

describe.each([44100, 48000, 96000])('saturation at %i Hz', rate => {
  const SIZE = 16384
  /** Amplitude at a whole number of cycles in the last SIZE samples. */
  const amplitude = (x: Float32Array, cycles: number) => {
    let re = 0,
      im = 0
    for (let n = 0; n < SIZE; n++) {
      const v = x[x.length - SIZE - 400 + n],
        a = (2 * Math.PI * cycles * n) / SIZE
      re += v * Math.cos(a)
      im += v * Math.sin(a)
    }
    return (Math.hypot(re, im) * 2) / SIZE
  }

  it('bends by its curve: harmonics are those of the formula', async () => {
    const cycles = 97,
      x = sine(SIZE * 2, (cycles * rate) / SIZE, 0.5, rate)
    const out = (await through('saturation', { driveDb: 12, bias: 0.3 }, [x], rate))[0]
    const drive = 10 ** (12 / 20),
      s = (v: number) => v / Math.sqrt(1 + v * v)
    for (const harmonic of [1, 2, 3, 4, 5]) {
      let c = 0
      for (let n = 0; n < 4096; n++)
        c +=
          (((s(drive * 0.5 * Math.sin((2 * Math.PI * n) / 4096) + 0.3) - s(0.3)) / drive) *
            (harmonic % 2
              ? Math.sin((2 * Math.PI * harmonic * n) / 4096)
              : Math.cos((2 * Math.PI * harmonic * n) / 4096)) *
            2) /
          4096
      expect(Math.abs(db(amplitude(out, cycles * harmonic) / Math.abs(c))), `harmonic ${harmonic}`).toBeLessThan(0.1)
    }
  })

  it.each([
    [12, -80],
    [24, -80],
    [36, -80],
    [48, -70]
  ])('keeps alias products of 5 kHz at −6 dBFS, driven by %d dB, under %d dB', async (driveDb, most) => {
    const cycles = Math.round((5000 / rate) * SIZE) | 1
    const out = (await through('saturation', { driveDb }, [sine(SIZE * 2, (cycles * rate) / SIZE, 0.5, rate)], rate))[0]
    const tone = amplitude(out, cycles)
    let worst = 0
    // Where harmonics fold to: every one up to the three-hundredth that lies over half the rate.
    for (let h = 2; h < 300; h++) {
      const folded = Math.abs(((h * cycles + SIZE / 2) % SIZE) - SIZE / 2)
      if (h * cycles > SIZE / 2 && folded % cycles !== 0) worst = Math.max(worst, amplitude(out, folded))
    }
    expect(db(worst / tone)).toBeLessThan(most)
  })

  it('passes quiet signals at unity, in time', async () => {
    for (const hz of [100, 1000, 10000]) {
      const x = sine(8000, hz, 0.0005, rate)
      const out = (await through('saturation', { driveDb: 0 }, [x], rate))[0]
      expect(rmsDb(difference(out.subarray(400, 7000), x.subarray(400, 7000))) - rmsDb(x)).toBeLessThan(-80)
    }
  })
})

describe.each([44100, 48000, 96000])('tremolo at %i Hz', rate => {
  it.each([
    ['sine', (p: number) => 0.5 - 0.5 * Math.cos(2 * Math.PI * p)],
    ['triangle', (p: number) => (p < 0.5 ? 2 * p : 2 - 2 * p)]
  ])('%s follows its formula from frame 0, the right leg later', async (shape, swing) => {
    const x = new Float32Array(48000).fill(0.5)
    const [l, r] = await through('tremolo', { hz: 5, depth: 80, shape, apart: 25 }, [x, x], rate)
    const want = (n: number, late: number) => {
      const at = (n * 5) / rate - late
      return 0.5 * (1 - 0.8 * swing(at - Math.floor(at)))
    }
    expect(
      peak(
        difference(
          l,
          Float64Array.from(l, (_, n) => want(n, 0))
        )
      )
    ).toBeLessThan(1e-6)
    expect(
      peak(
        difference(
          r,
          Float64Array.from(r, (_, n) => want(n, 0.25))
        )
      )
    ).toBeLessThan(1e-6)
  })
})

describe.each([44100, 48000, 96000])('width at %i Hz', rate => {
  it.each([0, 50, 100, 200])('of %d %% sets the side against the middle', async width => {
    const [a, b] = [whiteNoise(4000, 1), whiteNoise(4000, 2)]
    const [l, r] = await through('width', { width }, [a, b], rate)
    const side = (x: Float32Array, y: Float32Array) => x.map((v, n) => (v - y[n]) / 2),
      middle = (x: Float32Array, y: Float32Array) => x.map((v, n) => (v + y[n]) / 2)
    expect(peak(difference(middle(l, r), middle(a, b)))).toBeLessThan(1e-6)
    expect(
      peak(
        difference(
          side(l, r),
          side(a, b).map(v => (v * width) / 100)
        )
      )
    ).toBeLessThan(1e-6)
  })
})

// The simulated rig: what must be exact about it, judged by formulas.
import { describe, expect, it } from 'vitest'
import { compile } from '../compile/compile'
import { difference, impulse, peak, renderTaps, rmsDb, sine, whiteNoise } from '../testing/sound'
import { cut } from '../processors/biquad'
import { pingOf, Sketch } from '../testing/sketch'
import { mismatch } from './null'
import { compensationTaps, converterTaps } from '../rig/fractional'
import { ping, pingRow, pingIsStale } from './ping'

const FRAMES = 24000
const TRUE = 141.37

/** A loft desk with a wire on ports 1–2 and an amplifier on port 3, with loops over them. */
function rig(fields: Record<string, unknown> = {}): Sketch {
  const k = new Sketch()
  k.rig('loft')
  k.interface('desk', 'loft', 4, 4, { reportedLatencySamples: 128, trueLatencySamples: TRUE, ...fields })
  k.unit('wire', 'loft', 'wire')
  k.unit('amp', 'loft', 'tube-amplifier', {}, { name: 'Tube amplifier' })
  k.cable('loft', 'desk-out-1', 'wire:0')
  k.cable('loft', 'desk-out-2', 'wire:1')
  k.cable('loft', 'wire:0', 'desk-in-1')
  k.cable('loft', 'wire:1', 'desk-in-2')
  k.cable('loft', 'desk-out-3', 'amp:0')
  k.cable('loft', 'amp:0', 'desk-in-3')
  k.add('loop', {
    id: 'wire-loop',
    rig: 'loft',
    name: 'Wire',
    outPorts: ['desk-out-1', 'desk-out-2'],
    inPorts: ['desk-in-1', 'desk-in-2']
  })
  k.add('loop', { id: 'amp-loop', rig: 'loft', name: 'Amp', outPorts: ['desk-out-3'], inPorts: ['desk-in-3'] })
  k.bus('main', { role: 'main' })
  return k
}

const silent = { noiseDbfs: null, dcCornerHz: null }

async function pingInto(k: Sketch, loop: string, seed?: number) {
  const result = await ping(k.session, k.session.loop[loop], { seed })
  if (!result.measured) throw new Error(result.reason)
  k.session.loop[loop] = {
    ...k.session.loop[loop],
    applied: true,
    ping: pingRow(k.session, k.session.loop[loop], result, '2026-01-01')
  }
  return result
}

/** Two copies of a noise, one through the wire and inverted. */
async function wireNull(fields: Record<string, unknown>) {
  const k = rig(fields)
  const noise = [whiteNoise(FRAMES, 1, 0.25), whiteNoise(FRAMES, 2, 0.25)]
  k.medium('n', 2, FRAMES)
  k.main(k.track('straight', 'n'), 'main')
  k.main(k.track('out-and-back', 'n', { flippedLegs: [0, 1] }), 'main')
  k.slot('out-and-back', 'loop', {}, { loop: 'wire-loop' })
  await pingInto(k, 'wire-loop')
  const out = (await renderTaps(k.session, { n: noise }, FRAMES, { taps: [{ channel: 'main', tap: 'post' }] })).get(
    'main@post'
  )!
  return { residual: out, signal: noise }
}

/** RMS in dB between 20 Hz and 0.4 of the rate: a steep band-pass, then the mean square. */
function bandDb(x: Float32Array): number {
  let y = Float64Array.from(x)
  for (const [b0, b1, b2, a1, a2] of [...cut('low', 20, 24, 48000), ...cut('high', 0.4 * 48000, 48, 48000)]) {
    const z = new Float64Array(y.length)
    for (let n = 0; n < y.length; n++)
      z[n] = b0 * y[n] + b1 * (y[n - 1] ?? 0) + b2 * (y[n - 2] ?? 0) - a1 * (z[n - 1] ?? 0) - a2 * (z[n - 2] ?? 0)
    y = z
  }
  return rmsDb(y.subarray(2000, y.length - 2000))
}

describe('delays by fractions', () => {
  it.each([
    ['compensation', compensationTaps, 31],
    ['converter', (fraction: number) => converterTaps(63, fraction), 63]
  ] as const)('%s: complex error at most −100 dB up to 0.4 of the rate', (_, taps, whole) => {
    for (const fraction of [0, 0.1, 0.37, 0.5, 0.63, 0.9]) {
      const h = taps(fraction)
      for (let f = 0.001; f <= 0.4; f += 0.013) {
        const w = 2 * Math.PI * f
        let re = -Math.cos(w * (whole + fraction)),
          im = Math.sin(w * (whole + fraction))
        h.forEach((c, n) => {
          re += c * Math.cos(w * n)
          im -= c * Math.sin(w * n)
        })
        expect(10 * Math.log10(re * re + im * im)).toBeLessThan(-100)
      }
    }
  })
})

describe('a wire loop against a straight copy', () => {
  it('nulls to −90 dB of the signal without converter noise and coupling', async () => {
    const { residual, signal } = await wireNull(silent)
    expect(bandDb(residual[0]) - bandDb(signal[0])).toBeLessThan(-90)
    expect(bandDb(residual[1]) - bandDb(signal[1])).toBeLessThan(-90)
  })

  it('leaves what noise and coupling predict, within 2 dB', async () => {
    const { residual, signal } = await wireNull({ noiseDbfs: -96, dcCornerHz: 1.6 })
    // 1 − H of the first-order coupling has the magnitude fc / √(f² + fc²); white noise of equal power a Hz.
    const fc = 1.6,
      top = 0.4 * 48000
    const coupling = (fc * (Math.atan(top / fc) - Math.atan(20 / fc))) / (top - 20)
    const power = 10 ** (bandDb(signal[0]) / 10) * coupling + 10 ** (-96 / 10) * 0.8
    // The ping's delay is off by ε samples: (ωε)² in the mean over the band.
    expect(Math.abs(bandDb(residual[0]) - 10 * Math.log10(power))).toBeLessThan(2)
  })
})

describe('ping', () => {
  it('finds the true delay, its fraction, the gain and the polarity of a wire', async () => {
    const k = rig()
    const found = await pingInto(k, 'wire-loop')
    expect(Math.abs(found.delaySamples - TRUE)).toBeLessThan(0.02)
    expect(found.reportedSamples).toBe(128)
    expect(found.inverted).toBe(false)
    expect(Math.abs(found.gainDb)).toBeLessThan(0.05)
    expect(Math.abs(found.noiseDbfs + 115)).toBeLessThan(1)
    expect(found.confidence).toBeGreaterThan(0.9)
  })

  it('is right within 0.02 sample at 40 dB signal to noise, for several seeds', async () => {
    for (const seed of [1, 2, 3]) {
      const k = rig({ noiseDbfs: -57 })
      expect(Math.abs((await pingInto(k, 'wire-loop', seed)).delaySamples - TRUE)).toBeLessThan(0.02)
    }
  })

  it('says which unit is off', async () => {
    const k = rig()
    k.session.unit.amp = { ...k.session.unit.amp, powered: false }
    expect(await ping(k.session, k.session.loop['amp-loop'])).toMatchObject({
      measured: false,
      reason: 'nothing came back: Tube amplifier is off'
    })
  })

  it('says which cable is missing', async () => {
    const k = rig()
    const cable = Object.values(k.session.cable).find(c => c.fromUnit === 'amp')!
    delete k.session.cable[cable.id]
    expect(await ping(k.session, k.session.loop['amp-loop'])).toMatchObject({
      measured: false,
      reason: 'nothing came back: no cable leads from Tube amplifier to In 3'
    })
  })

  it('measures the amplifier with the air in front of it', async () => {
    const k = rig()
    const found = await pingInto(k, 'amp-loop')
    // Converters, two shapers of 63/4 samples each, 0.15 m of air.
    const least = TRUE + (2 * 63) / 4 + (0.15 / 343) * 48000
    expect(found.delaySamples).toBeGreaterThan(least - 1)
    expect(found.delaySamples).toBeLessThan(least + 12)
    expect(found.distortionDb).toBeGreaterThan(-60)
  })

  it('finds no harmonics in wires and converters, and some in an amplifier', async () => {
    const { session } = rig()
    const [wire, amp] = await Promise.all(
      ['wire-loop', 'amp-loop'].map(id => ping(session, session.loop[id]!, { seed: 6 }))
    )
    expect(wire!.measured && wire!.distortionDb).toBeLessThan(-90)
    expect(amp!.measured && amp!.distortionDb).toBeGreaterThan(-40)
  })

  it('goes stale when the cabling changes', async () => {
    const k = rig()
    await pingInto(k, 'wire-loop')
    expect(pingIsStale(k.session, k.session.loop['wire-loop'])).toBe(false)
    k.session.interface.desk = { ...k.session.interface.desk, trueLatencySamples: 99 }
    expect(pingIsStale(k.session, k.session.loop['wire-loop'])).toBe(true)
  })
})

describe('passes through the amplifier', () => {
  async function pass(seed: number, change: (k: Sketch) => void = () => {}) {
    const k = rig()
    k.medium('di', 1, FRAMES)
    k.main(k.track('kora', 'di'), 'main')
    k.slot('kora', 'loop', {}, { loop: 'amp-loop' })
    change(k)
    return (
      await renderTaps(k.session, { di: [sine(FRAMES, 220, 0.2)] }, FRAMES, {
        taps: [{ channel: 'kora', tap: 'post' }],
        seed
      })
    ).get('kora@post')![0]
  }

  it('are identical with the same seed', async () => {
    expect(await pass(5)).toEqual(await pass(5))
  })

  it('differ with a new seed by the noise that the figures predict, within 1 dB', async () => {
    const [a, b] = [await pass(5), await pass(6)]
    // Unit noise −66 dBu against +18 dBu at full scale (a sine), converter noise −115 dBFS; two passes add their
    // powers.
    const unit = -66 - 18 - 3.01
    const expected = 10 * Math.log10(2 * (10 ** (unit / 10) + 10 ** (-115 / 10)))
    expect(Math.abs(rmsDb(difference(a, b)) - expected)).toBeLessThan(1)
  })

  it('show a planted shift of one sample and a planted gain of 0.1 dB', async () => {
    const a = await pass(5)
    const shifted = new Float32Array(a.length)
    shifted.set(a.subarray(0, -1), 1)
    expect(mismatch(a, shifted).delaySamples).toBeCloseTo(1, 2)
    expect(
      mismatch(
        a,
        a.map(x => x * 10 ** (0.1 / 20))
      ).gainDb
    ).toBeCloseTo(0.1, 3)
  })

  it('are silent but for noise when the amplifier is off', async () => {
    const off = await pass(5, k => {
      k.session.unit.amp = { ...k.session.unit.amp, powered: false }
    })
    expect(rmsDb(off)).toBeLessThan(-110)
  })

  it('clip at the converter and nowhere else in the session', async () => {
    const k = rig(silent)
    k.medium('di', 1, FRAMES)
    k.main(k.track('hot', 'di', { trimDb: 18 }), 'main', { pan: -1 })
    k.slot('hot', 'loop', {}, { loop: 'wire-loop' })
    const out = await renderTaps(k.session, { di: [sine(FRAMES, 220, 0.5)] }, FRAMES, {
      taps: [
        { channel: 'hot', tap: 'input' },
        { channel: 'hot', tap: 'pre' }
      ]
    })
    expect(peak(out.get('hot@input')![0])).toBeGreaterThan(3.9)
    expect(peak(out.get('hot@pre')![0])).toBeLessThan(1.5)
  })
})

describe('ports', () => {
  it('a port feed and an input feed carry a signal out and back in, aligned by the loop that was pinged', async () => {
    const k = rig(silent)
    k.medium('n', 1, FRAMES)
    await pingInto(k, 'wire-loop')
    k.track('dry', 'n')
    k.track('back', undefined, { ready: true, listen: 'feed' })
    k.add('feed', { id: 'p', kind: 'port', from: 'dry', tap: 'input', ports: ['desk-out-1'] })
    k.add('feed', { id: 'i', kind: 'input', to: 'back', ports: ['desk-in-1'] })
    const x = impulse(FRAMES, 9000)
    const out = (await renderTaps(k.session, { n: [x] }, FRAMES, { taps: [{ channel: 'back', tap: 'post' }] })).get(
      'back@post'
    )![0]
    expect(out.indexOf(Math.max(...out))).toBe(9000)
    // The converter's filter ends below Nyquist, so the pulse loses a little height.
    expect(out[9000]).toBeGreaterThan(0.95)
  })

  it('two channels onto one port are summed', async () => {
    const k = rig(silent)
    k.medium('n', 1, FRAMES)
    await pingInto(k, 'wire-loop')
    for (const id of ['one', 'two']) {
      k.track(id, 'n')
      k.add('feed', { id: `p${id}`, kind: 'port', from: id, ports: ['desk-out-1'], levelDb: -6.0206 })
    }
    k.track('back', undefined, { listen: 'feed' })
    k.add('feed', { id: 'i', kind: 'input', to: 'back', ports: ['desk-in-1'] })
    const out = (
      await renderTaps(k.session, { n: [sine(FRAMES, 1000, 0.5)] }, FRAMES, {
        taps: [{ channel: 'back', tap: 'post' }]
      })
    ).get('back@post')![0]
    expect(peak(out.subarray(2000, 20000))).toBeCloseTo(0.5, 3)
  })

  it.each([0.5, 1.75, 5.25, 20.1, 62.9, 63.5, 200.4])(
    'a converter of %f samples is so late, fraction and all',
    async samples => {
      const k = rig(silent)
      Object.assign(k.session.interface.desk!, { trueLatencySamples: samples, dcCornerHz: null })
      k.medium('n', 1, FRAMES)
      k.track('t', 'n')
      k.track('back', undefined, { ready: true, listen: 'feed', layout: ['M'] })
      k.add('feed', { id: 'p', kind: 'port', from: 't', tap: 'input', ports: ['desk-out-1'] })
      k.add('feed', { id: 'i', kind: 'input', to: 'back', ports: ['desk-in-1'] })
      for (const loop of Object.values(k.session.loop)) loop.compensated = false
      // Low enough that even the shortest filter passes it as it is; the phase tells the delay.
      const hz = 100,
        out = (
          await renderTaps(k.session, { n: [sine(FRAMES, hz, 0.5)] }, FRAMES, {
            taps: [{ channel: 'back', tap: 'post' }]
          })
        ).get('back@post')![0]
      const n = 480 * 20,
        from = 4000
      let re = 0,
        im = 0
      for (let i = 0; i < n; i++) {
        const w = (2 * Math.PI * hz * (from + i)) / 48000
        re += out[from + i]! * Math.sin(w)
        im += out[from + i]! * Math.cos(w)
      }
      const late = (-Math.atan2(im, re) / (2 * Math.PI * hz)) * 48000
      expect(Math.abs(late - samples)).toBeLessThan(0.02)
    }
  )

  it('an input feed has a level, and shares the return of a loop in whatever order both are asked for', async () => {
    const k = rig(silent)
    k.medium('n', 1, FRAMES)
    await pingInto(k, 'wire-loop')
    k.track('t', 'n')
    k.slot('t', 'loop', {}, { loop: 'wire-loop' })
    k.track('aside', undefined, { listen: 'feed', layout: ['M'] })
    k.add('feed', { id: 'i', kind: 'input', to: 'aside', ports: ['desk-in-1'], levelDb: -6.0206 })
    const taps = [
      { channel: 'aside', tap: 'post' as const },
      { channel: 't', tap: 'post' as const }
    ]
    const heard = async (order: typeof taps, channel: string) =>
      peak(
        (await renderTaps(k.session, { n: [sine(FRAMES, 1000, 0.5)] }, FRAMES, { taps: order }))
          .get(`${channel}@post`)![0]
          .subarray(2000, 20000)
      )
    for (const order of [taps, [...taps].reverse()]) {
      expect(await heard(order, 't')).toBeCloseTo(0.5, 3)
      k.session.feed.i.levelDb = 0
      const full = await heard(order, 'aside')
      expect(full).toBeGreaterThan(0.3)
      k.session.feed.i.levelDb = -6.0206
      expect(await heard(order, 'aside')).toBeCloseTo(full / 2, 3)
    }
  })

  it('a loop that would feed itself is refused by the compiler', () => {
    const k = rig()
    k.track('back', undefined, { listen: 'feed' })
    k.add('feed', { id: 'i', kind: 'input', to: 'back', ports: ['desk-in-1'] })
    k.add('feed', { id: 'p', kind: 'port', from: 'back', ports: ['desk-out-1'] })
    expect(() => compile(k.session, { taps: [{ channel: 'back', tap: 'post' }] })).toThrow(/circle/)
  })
})

describe('alignment', () => {
  it('an impulse at frame n is at frame n in prints of paths whose slots only delay, for 20 random n', async () => {
    const places = Array.from({ length: 20 }, (_, i) => 500 + Math.floor(((whiteNoise(20, 9, 1)[i] + 1) / 2) * 20000))
    for (const n of places) {
      const k = rig(silent)
      k.medium('n', 1, FRAMES)
      k.bus('sub', { layout: ['M'] })
      k.main(k.track('t', 'n'), 'sub')
      k.slot('t', 'compressor', { ratio: 1, lookAheadMs: 5 })
      k.slot('sub', 'loop', {}, { loop: 'wire-loop' })
      k.session.loop['wire-loop'] = { ...k.session.loop['wire-loop'], applied: true, ping: pingOf(TRUE) }
      const out = (
        await renderTaps(k.session, { n: [impulse(FRAMES, n)] }, FRAMES, { taps: [{ channel: 'sub', tap: 'post' }] })
      ).get('sub@post')![0]
      const at = out.indexOf(Math.max(...out))
      // The centre of a symmetric pulse: a parabola through the peak and its neighbours.
      const [l, c, r] = [out[at - 1], out[at], out[at + 1]]
      expect(Math.abs(at + (l - r) / (2 * (l - 2 * c + r)) - n)).toBeLessThan(0.01)
    }
  })
})

describe('clocks', () => {
  /** A sine out by one interface and in by another, twenty seconds; how late it is at the end against the beginning. */
  async function drift(fields: Record<string, unknown>): Promise<number> {
    const k = new Sketch()
    k.rig('r')
    for (const id of ['one', 'two'])
      k.interface(id, 'r', 1, 1, { trueLatencySamples: 0, ...silent, ...(id === 'two' ? fields : {}) })
    k.cable('r', 'one-out-1', 'two-in-1')
    k.add('loop', {
      id: 'across',
      rig: 'r',
      name: 'Across',
      outPorts: ['one-out-1'],
      inPorts: ['two-in-1'],
      compensated: false
    })
    const frames = 48000 * 20
    k.medium('m', 1, frames)
    k.bus('main', { role: 'main', layout: ['M'] })
    k.main(k.track('t', 'm'), 'main')
    k.slot('t', 'loop', {}, { loop: 'across' })
    const out = (
      await renderTaps(k.session, { m: [sine(frames, 100, 0.5)] }, frames, { taps: [{ channel: 'main', tap: 'post' }] })
    ).get('main@post')![0]
    const phase = (from: number) => {
      let re = 0,
        im = 0
      for (let n = from; n < from + 48000; n++) {
        re += out[n] * Math.cos((2 * Math.PI * 100 * n) / 48000)
        im += out[n] * Math.sin((2 * Math.PI * 100 * n) / 48000)
      }
      return (Math.atan2(re, im) / (2 * Math.PI * 100)) * 48000
    }
    return phase(4800) - phase(frames - 48000)
  }

  it('that run free drift by their parts per million; locked ones do not', async () => {
    // 18.9 s between the middles of both windows: 12 ppm are 10.9 samples.
    expect(await drift({ clock: 'free', driftPpm: 12 })).toBeCloseTo(-12e-6 * (48000 * 19 - 4800), 1)
    expect(await drift({ clock: 'locked', driftPpm: 12 })).toBeCloseTo(0, 4)
  })

  it('are no matter out and back by the same device, free or not', async () => {
    const out = async (clock: string) => {
      const k = rig({ ...silent, clock, driftPpm: 40 })
      k.medium('n', 2, FRAMES)
      k.main(k.track('t', 'n'), 'main')
      k.slot('t', 'loop', {}, { loop: 'wire-loop' })
      return (
        await renderTaps(k.session, { n: [whiteNoise(FRAMES, 1), whiteNoise(FRAMES, 2)] }, FRAMES, {
          taps: [{ channel: 'main', tap: 'post' }]
        })
      ).get('main@post')!
    }
    expect(await out('free')).toEqual(await out('locked'))
  })
})

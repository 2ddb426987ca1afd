// The stand-ins for units, measured from port to port: what their settings say is what a tone through them shows.
import { describe, expect, it } from 'vitest'
import type { Params } from '../session/rows'
import { pingOf, Sketch } from '../testing/sketch'
import { RATE, renderTaps, sine } from '../testing/sound'
import { believedDelay, compensationAt, loopReturningAt } from './believedDelay'
import { oversamplingTaps } from './fractional'
import type { UnitModel } from './unit'
import { UNITS } from './units'

const FRAMES = RATE
/** dBu at full scale of the ports: 18 dBu by default. */
const REFERENCE_DBU = 18

/** What comes out of a unit's jacks when these go in; converters without noise and without a corner at DC. */
async function through(
  model: string,
  settings: Params,
  inputs: (Float32Array | null)[],
  seed = 1
): Promise<Float32Array[]> {
  const k = new Sketch('Bench'),
    { outputs } = UNITS[model]!
  k.rig('r')
  k.interface('io', 'r', inputs.length, outputs.length, { noiseDbfs: null, dcCornerHz: null })
  k.unit('u', 'r', model, settings)
  const media: Record<string, Float32Array[]> = {}
  inputs.forEach((audio, i) => {
    k.cable('r', `io-out-${i + 1}`, `u:${i}`)
    if (!audio) return
    media[`m${i}`] = [audio]
    k.medium(`m${i}`, 1, FRAMES)
    k.track(`t${i}`, `m${i}`)
    k.add('feed', { id: `out${i}`, kind: 'port', from: `t${i}`, ports: [`io-out-${i + 1}`] })
  })
  outputs.forEach((_, i) => {
    k.cable('r', `u:${i}`, `io-in-${i + 1}`)
    k.bus(`b${i}`, { layout: ['M'] })
    k.add('feed', { id: `in${i}`, kind: 'input', to: `b${i}`, ports: [`io-in-${i + 1}`] })
  })
  const taps = outputs.map((_, i) => ({ channel: `b${i}`, tap: 'post' as const }))
  const got = await renderTaps(k.session, media, FRAMES, { taps, seed })
  return taps.map(t => got.get(`${t.channel}@post`)![0]!)
}

/** Level of one frequency over the last half second, where everything has settled: dB of a sine of full scale. */
function levelDb(x: Float32Array, hz: number): number {
  let re = 0,
    im = 0
  for (let n = FRAMES / 2; n < FRAMES; n++) {
    re += x[n]! * Math.cos((2 * Math.PI * hz * n) / RATE)
    im += x[n]! * Math.sin((2 * Math.PI * hz * n) / RATE)
  }
  return 20 * Math.log10((Math.hypot(re, im) * 4) / FRAMES)
}
const tone = (hz: number, db: number) => sine(FRAMES, hz, 10 ** (db / 20))

const alone = (model: UnitModel, x: Float32Array) => model.inputs.map((_, i) => (i === 0 ? x : null))
/** Of the converters alone, there and back: what the interface of the bench says. */
const CONVERTERS_MS = (128 / RATE) * 1000

describe.each(Object.values(UNITS).filter(u => !u.plays))('what is published of the $label ($model)', model => {
  const { figures } = model
  const gainAt = async (hz: number) => levelDb((await through(model.model, {}, alone(model, tone(hz, -40))))[0]!, hz)

  it.each([
    ['at nominal level', 0],
    ['10 dB above it', 1]
  ] as const)('distortion %s', async (_, i) => {
    const [x] = await through(model.model, {}, alone(model, tone(1000, figures.nominalDbu + 10 * i - REFERENCE_DBU)))
    const harmonics = Array.from({ length: 8 }, (_, k) => 10 ** (levelDb(x!, 1000 * (k + 2)) / 10))
    const percent = 100 * Math.sqrt(harmonics.reduce((a, b) => a + b) / 10 ** (levelDb(x!, 1000) / 10))
    const published = figures.distortion[i]
    if (published === 0) expect(percent).toBeLessThan(0.05)
    else expect(Math.abs(percent / published - 1), `${percent} %`).toBeLessThan(0.03)
  })

  const [low, high] = figures.bandHz ?? [0, 0]
  it.runIf(figures.bandHz)(
    'band: at its ends at most 3 dB below 1 kHz, beyond them more where anything is left',
    async () => {
      const middle = await gainAt(1000)
      for (const [end, beyond] of [
        [low, low / 1.4],
        [high, high * 1.2]
      ] as const) {
        expect((await gainAt(end)) - middle).toBeGreaterThan(-3.3)
        if (beyond > 10 && beyond < 0.45 * RATE) expect((await gainAt(beyond)) - middle).toBeLessThan(-3)
      }
    }
  )

  it.runIf(figures.crosstalkDb)('crosstalk from one side to the other at 1 kHz', async () => {
    const sides = await through(model.model, {}, alone(model, tone(1000, figures.nominalDbu - REFERENCE_DBU)))
    const [here, there] = sides.map(x => levelDb(x, 1000)) as [number, number]
    expect(here - there).toBeGreaterThan(figures.crosstalkDb! - 0.1)
  })

  it('delay until the first sound, and the noise before it', async () => {
    const at = 20000
    const click = new Float32Array(FRAMES)
    click[at] = model.linear ? 0.5 : 0.01
    const [x] = await through(model.model, {}, alone(model, click))
    const peak = x!.reduce((most, v) => Math.max(most, Math.abs(v)), 0)
    const first = x!.findIndex(v => Math.abs(v) > peak * 0.3)
    expect(((first - at) / RATE) * 1000 - CONVERTERS_MS).toBeCloseTo(figures.delayMs, 1)
    const power = x!.subarray(1000, at).reduce((sum, v) => sum + v * v, 0) / (at - 1000)
    // A sine of 0 dBu has an RMS of 1/√2 there.
    const noiseDbu = 10 * Math.log10(power) + 10 * Math.log10(2) + REFERENCE_DBU
    if (model.noiseDbu === -Infinity) expect(power).toBe(0)
    else expect(Math.abs(noiseDbu - model.noiseDbu)).toBeLessThan(0.5)
  })
})

describe('a summing mixer', () => {
  it.each([8, 16])(
    'of %i inputs adds the odd ones left and the even ones right, with its output level',
    async count => {
      const inputs = Array.from({ length: count }, (_, i) => tone(500 + 100 * i, -40))
      const [left, right] = await through(`summing-${count}`, { outputDb: -6 }, inputs)
      for (let i = 0; i < count; i++) {
        const [to, not] = i % 2 ? [right!, left!] : [left!, right!]
        expect(levelDb(to, 500 + 100 * i)).toBeCloseTo(-46, 1)
        expect(levelDb(not, 500 + 100 * i)).toBeLessThan(-110)
      }
    }
  )
  it('adds equal signals in the same phase: 6 dB more', async () => {
    const same = tone(1000, -30)
    const [left, right] = await through('summing-8', {}, [same, null, same, same, null, null, null, null])
    expect(levelDb(left!, 1000)).toBeCloseTo(-30 + 20 * Math.log10(2), 1)
    expect(levelDb(right!, 1000)).toBeCloseTo(-30, 1)
  })
})

describe('the valve compressor', () => {
  const settled = { attackMs: 1, releaseMs: 3000, makeupDb: 0 }
  const out = async (settings: Params, left: number, right: number) =>
    (await through('valve-compressor', { ...settled, ...settings }, [tone(1000, left), tone(700, right)])).map((x, i) =>
      levelDb(x, i ? 700 : 1000)
    ) as [number, number]

  it('far below its threshold is a wire with its output level', async () => {
    const [left, right] = await out({ thresholdDbu: 10, makeupDb: 5 }, -60, -66)
    expect(left).toBeCloseTo(-55, 1)
    expect(right).toBeCloseTo(-61, 1)
  })
  it('rises by its ratio above it, and both sides sink together', async () => {
    for (const ratio of [2, 6]) {
      const [a, b] = [
        await out({ thresholdDbu: -20, ratio }, -20, -60),
        await out({ thresholdDbu: -20, ratio }, -14, -60)
      ]
      expect(b[0] - a[0]).toBeCloseTo(6 / ratio, 0.7)
      // What the left side lost the right lost too.
      expect(b[1] - a[1]).toBeCloseTo(6 / ratio - 6, 0.7)
    }
  })
  it('begins at its threshold, wherever that is', async () => {
    const [low, high] = [await out({ thresholdDbu: -20 }, -20, -60), await out({ thresholdDbu: -14 }, -14, -60)]
    expect(high[0] - low[0]).toBeCloseTo(6, 0.7)
    const reduction = -20 - low[0],
      over = -20 + REFERENCE_DBU + 20
    expect(reduction).toBeGreaterThan((over - 5) * (1 - 1 / 3))
    expect(reduction).toBeLessThan((over + 3) * (1 - 1 / 3))
  })
  it('warms what is loud with harmonics, what is low hardly', async () => {
    const harmonic = async (db: number) => {
      const [x] = await through('valve-compressor', { ...settled, thresholdDbu: 20 }, [tone(1000, db), null])
      return levelDb(x!, 2000) - levelDb(x!, 1000)
    }
    expect(await harmonic(-6)).toBeGreaterThan((await harmonic(-26)) + 12)
  })
})

describe('the tube amplifier', () => {
  const SOFT = { driveDb: 0, bassDb: 0, middleDb: 0, trebleDb: 0, distanceM: 0.02 }
  const gain = async (settings: Params, hz: number, db = -70) =>
    levelDb((await through('tube-amplifier', { ...SOFT, ...settings }, [tone(hz, db)]))[0]!, hz) - db

  it('has a tone stack: bass below, middle at 600 Hz, treble above', async () => {
    for (const [setting, inside, outside] of [
      ['bassDb', 40, 4000],
      ['middleDb', 600, 8000],
      ['trebleDb', 9000, 100]
    ] as const) {
      const [flat, up] = [await gain({}, inside), await gain({ [setting]: 6 }, inside)]
      expect(up - flat, setting).toBeGreaterThan(5)
      expect(up - flat, setting).toBeLessThan(6.2)
      expect(Math.abs((await gain({ [setting]: 6 }, outside)) - (await gain({}, outside))), setting).toBeLessThan(0.8)
    }
  })
  it('is louder by its microphone gain, and later by the air in front of it', async () => {
    expect((await gain({ microphoneDb: 6 }, 1000)) - (await gain({}, 1000))).toBeCloseTo(6, 1)
    const click = new Float32Array(FRAMES)
    click[1000] = 0.05
    const peakAt = async (distanceM: number) => {
      const [x] = await through('tube-amplifier', { ...SOFT, distanceM }, [click])
      return x!.reduce((best, v, n) => (Math.abs(v) > Math.abs(x![best]!) ? n : best), 0)
    }
    const metres = 2
    expect((await peakAt(0.02 + metres)) - (await peakAt(0.02))).toBeCloseTo((metres / 343) * RATE, -0.5)
  })
  it('bends more with more drive: the same tone has more harmonics', async () => {
    const harmonic = async (driveDb: number) => {
      const [x] = await through('tube-amplifier', { ...SOFT, driveDb }, [tone(400, -30)])
      return levelDb(x!, 800) - levelDb(x!, 400)
    }
    const [soft, some, much] = [await harmonic(0), await harmonic(6), await harmonic(12)]
    expect(some).toBeGreaterThan(soft + 3)
    expect(much).toBeGreaterThan(some + 3)
  })
})

describe('the low pass of four times the rate', () => {
  const taps = oversamplingTaps()
  const response = (cycles: number) => {
    const sum = (f: (a: number) => number) => taps.reduce((s, t, n) => s + t * f(2 * Math.PI * cycles * n), 0)
    return 20 * Math.log10(Math.hypot(sum(Math.cos), sum(Math.sin)))
  }
  it('has 64 taps of one phase, lets everything through to 0.2 of the rate and halves at 0.45', () => {
    expect(taps).toHaveLength(64)
    taps.forEach((t, n) => expect(t).toBeCloseTo(taps[63 - n]!, 12))
    expect(taps.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 12)
    for (let f = 0; f <= 0.2; f += 0.02) expect(Math.abs(response(f / 4))).toBeLessThan(0.02)
    expect(response(0.45 / 4)).toBeCloseTo(-6.02, 1)
  })
  it('stops by more than 90 dB from 0.7 of the rate on: the side lobes of a Blackman-Harris window', () => {
    for (let f = 0.71; f <= 2; f += 0.0103) expect(response(f / 4)).toBeLessThan(-90)
  })
})

describe('what a session believes of a loop', () => {
  function rig() {
    const k = new Sketch()
    k.rig('r')
    k.interface('a', 'r', 1, 2, { reportedLatencySamples: 70 })
    k.interface('b', 'r', 1, 1, { reportedLatencySamples: 90 })
    const ping = pingOf(71.5)
    k.add('loop', { id: 'z', rig: 'r', name: 'Z', outPorts: ['a-out-1'], inPorts: ['b-in-1'] })
    k.add('loop', { id: 'y', rig: 'r', name: 'Y', outPorts: [], inPorts: ['b-in-1'] })
    k.add('loop', { id: 'x', rig: 'r', name: 'X', outPorts: ['a-out-1'], inPorts: ['a-in-1'], ping, applied: true })
    k.add('loop', { id: 'w', rig: 'r', name: 'W', outPorts: ['a-out-1'], inPorts: ['a-in-2'], ping })
    k.add('loop', { id: 'v', rig: 'r', name: 'V' })
    return k.session
  }
  it('is what was pinged and applied, else what the driver of the port out says, else of the port in', () => {
    const s = rig()
    expect(['z', 'y', 'x', 'w', 'v'].map(id => believedDelay(s, s.loop[id]!))).toEqual([70, 90, 71.5, 70, 0])
  })
  it('a port in is compensated by the first loop that names it, by id', () => {
    const s = rig()
    expect(loopReturningAt(s, 'b-in-1')?.id).toBe('y')
    expect(loopReturningAt(s, 'a-out-1')).toBeUndefined()
    expect(compensationAt(s, 'b-in-1')).toBe(90)
    expect(compensationAt(s, 'a-in-1')).toBe(71.5)
    expect(compensationAt(s, 'a-out-1')).toBeNull()
    s.loop.x!.compensated = false
    expect(compensationAt(s, 'a-in-1')).toBeNull()
  })
})

describe('a passive equaliser', () => {
  it('loses 16 dB, lifts and cuts around that, and its sides know nothing of each other', async () => {
    const gain = async (settings: Params, hz: number) =>
      levelDb((await through('passive-equaliser', settings, [tone(hz, -30), null]))[0]!, hz) + 30
    expect(await gain({}, 1000)).toBeCloseTo(-16, 1)
    expect(await gain({ lowHz: '100 Hz', lowDb: 8 }, 25)).toBeCloseTo(-8, 0)
    expect(await gain({ highHz: '4 kHz', highDb: 6 }, 4000)).toBeCloseTo(-10, 1)
    expect(await gain({ airDb: -10 }, 20000)).toBeLessThan(-23)
  })
})

describe('a tape deck', () => {
  const at = async (settings: Params, db: number, hz = 1000) =>
    levelDb((await through('tape-deck', settings, [tone(hz, db), null]))[0]!, hz) - db
  it('turned to its input is a wire', async () => expect(await at({ monitor: 'input' }, -30)).toBeCloseTo(0, 2))
  it('holds what is loud: 10 dB more at its input become less', async () => {
    expect(await at({}, -50)).toBeCloseTo(0, 0)
    expect(await at({}, -4)).toBeLessThan((await at({}, -14)) - 0.5)
  })
  it('is later the slower it runs: 4.2 cm between its heads', async () => {
    const late = async (speed: string) => {
      const click = new Float32Array(FRAMES)
      click[1000] = 0.5
      const [x] = await through('tape-deck', { speed }, [click, null])
      return x!.reduce((best, v, n) => (Math.abs(v) > Math.abs(x![best]!) ? n : best), 0) - 1000
    }
    expect((await late('19 cm/s')) - (await late('76 cm/s'))).toBeCloseTo((4.2 / 19.05 - 4.2 / 76.2) * RATE, -1.5)
  })
})

describe('a modelling processor', () => {
  const bench = async (settings: Params, jack: 0 | 1) => {
    const inputs = [null, null] as (Float32Array | null)[]
    inputs[jack] = tone(1000, -28)
    return levelDb((await through('modelling-processor', settings, inputs))[0]!, 1000)
  }
  it('listens to the jack that its switch says and to no other', async () => {
    expect(await bench({}, 0)).toBeGreaterThan(-50)
    expect(await bench({}, 1)).toBeLessThan(-100)
    expect(await bench({ input: 'digital' }, 1)).toBeGreaterThan(-50)
    expect(await bench({ input: 'digital' }, 0)).toBeLessThan(-100)
  })
  it('plays its presets', async () => {
    const levels = await Promise.all(
      ['Glass, clean', 'Warm edge', 'Tall stack', 'Wide bell'].map(preset => bench({ preset }, 0))
    )
    expect(new Set(levels.map(l => l.toFixed(1))).size).toBe(4)
  })
})

describe.each(['spring', 'plate'])('a %s', model => {
  it('decays by 60 dB in about the time that it is set to', async () => {
    const decayS = 1
    const burst = new Float32Array(FRAMES)
    sine(4800, 800, 0.3).forEach((v, n) => (burst[n] = v))
    const [x] = await through(model, model === 'spring' ? { decayS, flutter: 0 } : { decayS }, [burst])
    const level = (fromS: number) => {
      let sum = 0
      for (let n = Math.round(fromS * RATE); n < Math.round((fromS + 0.1) * RATE); n++) sum += x![n]! ** 2
      return 10 * Math.log10(sum)
    }
    expect((level(0.2) - level(0.6)) / 0.4 / 60).toBeCloseTo(1, 0)
  })
})

describe('wow and flutter of a tape deck', () => {
  const HZ = 3000
  /** How far the pitch of a tone is off, in per cent: by the turn of its phase from one 10 ms to the next. */
  function offPercent(x: Float32Array): number[] {
    const size = RATE / 100,
      phases: number[] = []
    for (let at = RATE / 2; at + size <= FRAMES; at += size) {
      let re = 0,
        im = 0
      for (let n = at; n < at + size; n++) {
        re += x[n]! * Math.cos((2 * Math.PI * HZ * n) / RATE)
        im -= x[n]! * Math.sin((2 * Math.PI * HZ * n) / RATE)
      }
      phases.push(Math.atan2(im, re))
    }
    const wrapped = (d: number) => d - 2 * Math.PI * Math.round(d / (2 * Math.PI))
    return phases.slice(1).map((p, i) => (100 * wrapped(p - phases[i]!)) / (2 * Math.PI * HZ * 0.01))
  }
  const played = (wowPercent: number, seed = 1) =>
    through('tape-deck', { wowPercent }, [tone(HZ, -20), tone(HZ, -20)], seed)
  const most = (list: number[]) => Math.max(...list.map(Math.abs))

  it('moves the pitch by what it says and a third of that, and not at all at nothing', async () => {
    const [still] = await played(0),
      [moved] = await played(0.5)
    expect(most(offPercent(still!))).toBeLessThan(0.01)
    // Half a second sees at least the fast part whole; both together are the most there can be.
    expect(most(offPercent(moved!))).toBeGreaterThan(0.5 / 3)
    expect(most(offPercent(moved!))).toBeLessThan(0.5 * (4 / 3) * 1.02)
  })
  it('is the same again for a pass with the same seed, another for another, and one for both tracks', async () => {
    const [left, right] = await played(0.5),
      [again] = await played(0.5),
      [other] = await played(0.5, 2)
    expect(again).toEqual(left)
    const [a, b, c] = [left, right, other].map(x => offPercent(x!)) as [number[], number[], number[]]
    expect(most(a.map((v, i) => v - b[i]!))).toBeLessThan(0.02)
    expect(most(a.map((v, i) => v - c[i]!))).toBeGreaterThan(0.1)
  })
})

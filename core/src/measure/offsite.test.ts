// The off-site pass against a stranger's studio that is computed by formula: sound at any moment, not by interpolation.
import { describe, expect, it } from 'vitest'
import { offsiteFeed, offsitePlaces, offsiteReturn, type OffsiteReturn, type OffsiteShape } from './offsite'
import { Dice } from '../testing/generated'
import { times } from '../testing/lengths'
import { difference, rmsDb, whiteNoise } from '../testing/sound'

const RATE = 48000
const SECONDS = process.env.NULLET_LONG ? 600 : 5
const shape: OffsiteShape = { rate: RATE, frames: SECONDS * RATE, tailFrames: RATE }
const places = offsitePlaces(shape)
const MARK = 65536

/** Five tones that fade in and out: the programme at any moment, in frames. */
function programmeAt(t: number): number {
  if (t < 0 || t > shape.frames) return 0
  const fade = Math.min(1, t / 4800, (shape.frames - t) / 4800)
  const tones = [110.3, 523.7, 1911.1, 4423.9, 9001.3]
  return fade * tones.reduce((sum, hz, i) => sum + (0.3 / (i + 2)) * Math.sin((2 * Math.PI * hz * t) / RATE + i), 0)
}
/** A ping's sweep at any moment (Farina 2000), −12 dBFS. */
function markAt(t: number): number {
  if (t < 0 || t > MARK) return 0
  const low = 15,
    ratio = Math.log((0.46 * RATE) / low),
    seconds = MARK / RATE
  const phase = ((2 * Math.PI * low * seconds) / ratio) * (Math.exp((t / MARK) * ratio) - 1)
  const edge = Math.max(0, Math.min(1, t / Math.round(RATE * 0.004), (MARK - t) / Math.round(RATE * 0.004)))
  return 10 ** (-12 / 20) * Math.sin(phase) * edge
}
const feedAt = (t: number) => markAt(t - places.first) + programmeAt(t - places.programme) + markAt(t - places.second)
const programme = () => Float32Array.from({ length: shape.frames }, (_, n) => programmeAt(n))

interface Studio {
  /** Frames of silence before it, with a fraction. */ late: number
  ppm: number
  gain: number
  noiseDbfs: number
  seed?: number
}
function comeBack({ late, ppm, gain, noiseDbfs, seed = 1 }: Studio, length = 1): Float32Array {
  const ratio = 1 + ppm / 1e6
  const frames = Math.ceil((places.length * ratio + late + 30000) * length)
  const noise = whiteNoise(frames, seed, Math.sqrt(3) * 10 ** (noiseDbfs / 20))
  return Float32Array.from({ length: frames }, (_, n) => gain * feedAt((n - late) / ratio) + noise[n]!)
}
function got(x: Float32Array[]): OffsiteReturn {
  const result = offsiteReturn(x, shape)
  if ('refused' in result) throw new Error(result.refused)
  return result
}
/** By how many frames what was laid is late against what was sent: phase of the tone of 1911.1 Hz over a second. */
function lateness(x: Float32Array, from: number): number {
  const phase = (at: (n: number) => number) => {
    let re = 0,
      im = 0
    for (let n = from; n < from + RATE; n++) {
      re += at(n) * Math.cos((2 * Math.PI * 1911.1 * n) / RATE)
      im += at(n) * Math.sin((2 * Math.PI * 1911.1 * n) / RATE)
    }
    return Math.atan2(im, re)
  }
  const by = phase(n => x[n]!) - phase(programmeAt)
  return (Math.atan2(Math.sin(by), Math.cos(by)) / (2 * Math.PI * 1911.1)) * RATE
}

describe('a file that comes back', () => {
  it('as it went is laid as it was', () => {
    const sent = offsiteFeed([programme()], shape)
    expect(sent[0]).toHaveLength(places.length)
    const back = got(sent)
    expect(back.inverted).toBe(false)
    expect(Math.abs(back.ppm)).toBeLessThan(0.05)
    expect(Math.abs(back.gainDb!)).toBeLessThan(0.05)
    expect(back.confidence).toBeGreaterThan(0.9)
    expect(rmsDb(difference(back.audio[0]!.subarray(0, shape.frames), programme()))).toBeLessThan(-75)
  })

  it('late, by another clock, turned, lower, in noise: located, corrected, within 0.05 frames from begin to end', () => {
    const back = got([comeBack({ late: 1_234_567.37, ppm: 80, gain: -(10 ** (-7 / 20)), noiseDbfs: -60 })])
    expect(back.inverted).toBe(true)
    expect(back.gainDb!).toBeCloseTo(-7, 1)
    expect(Math.abs(back.ppm - 80)).toBeLessThan(0.1)
    for (const from of [RATE, shape.frames / 2, shape.frames - 2 * RATE])
      expect(Math.abs(lateness(back.audio[0]!, from))).toBeLessThan(0.05)
    expect(back.confidence).toBeGreaterThan(0.5)
  }, 600_000)

  const STUDIOS = process.env.NULLET_LONG ? 40 : 3
  it(`from ${STUDIOS} generated studios: never a wrong polarity, always in place`, () => {
    const dice = new Dice(4)
    for (let n = 0; n < STUDIOS; n++) {
      const turned = dice.chance(0.5)
      const studio = {
        late: dice.next() * 200_000,
        ppm: dice.next() * 300 - 150,
        gain: (turned ? -1 : 1) * 10 ** (-(dice.next() * 20) / 20),
        noiseDbfs: -90 + dice.next() * 25,
        seed: n
      }
      const back = got([comeBack(studio)])
      expect(back.inverted, JSON.stringify(studio)).toBe(turned)
      expect(Math.abs(back.ppm - studio.ppm)).toBeLessThan(0.3)
      for (const from of [RATE, shape.frames - 2 * RATE])
        expect(Math.abs(lateness(back.audio[0]!, from)), JSON.stringify(studio)).toBeLessThan(0.05)
    }
  }, 3_600_000)

  it('of two microphones keeps both, by one clock', () => {
    const left = comeBack({ late: 5000, ppm: -40, gain: 0.5, noiseDbfs: -80 })
    const right = left.map(v => -0.25 * v)
    const back = got([left, right])
    expect(back.audio).toHaveLength(2)
    expect(rmsDb(back.audio[1]!) - rmsDb(back.audio[0]!)).toBeCloseTo(20 * Math.log10(0.25), 2)
  })

  it('whose sound has no polarity to speak of says so and turns nothing', () => {
    const x = comeBack({ late: 100, ppm: 0, gain: 1, noiseDbfs: -90 })
    // The difference of neighbours: as large up as down.
    const bent = x.map((v, n) => v - (x[n - 1] ?? 0))
    const back = got([bent])
    expect(back).toMatchObject({ inverted: null, gainDb: null })
    expect(back.audio[0]!.some(v => v !== 0)).toBe(true)
  })
})

describe('a file that cannot be laid', () => {
  it.each([
    ['cut short', () => comeBack({ late: 10, ppm: 0, gain: 1, noiseDbfs: -80 }, 0.7), /the other one/],
    ['of other sound', () => whiteNoise(places.length, 3, 0.3), /marks are not in it/],
    ['the programme alone', () => programme(), /marks are not in it/],
    ['silent', () => new Float32Array(places.length), /marks are not in it/],
    [
      'edited between the marks',
      () => {
        const x = comeBack({ late: 10, ppm: 0, gain: 1, noiseDbfs: -80 })
        const cut = places.programme + 48000
        return Float32Array.from([...x.subarray(0, cut), ...x.subarray(cut + 24000)])
      },
      /cut, or edited between them|the other one is missing/
    ]
  ])('%s is refused, which says why', (_, make, reason) => {
    expect(offsiteReturn([make()], shape)).toEqual({ refused: expect.stringMatching(reason) })
  })

  it('of sounds that begin and end at any moment is told as another file', () => {
    for (let seed = 1; seed <= times(12, 300); seed++) {
      const dice = new Dice(seed),
        x = new Float32Array(places.length)
      for (let n = 1 + dice.below(4); n > 0; n--) {
        const colour = dice.chance(0.5) ? (dice.below(1000) / 1000) ** 3 : 1
        let held = 0
        const burst = whiteNoise(2000 + dice.below(130_000), 10 * seed + n).map(v => (held += colour * (v - held)))
        x.set(burst.subarray(0, x.length), dice.below(x.length - Math.min(burst.length, x.length) + 1))
      }
      expect(offsiteReturn([x], shape), `seed ${seed}`).toEqual({
        refused: expect.stringContaining('the marks are not in it')
      })
    }
  })
})

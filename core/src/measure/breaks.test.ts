import { describe, expect, it } from 'vitest'
import { Dice } from '../testing/generated'
import { RATE, whiteNoise } from '../testing/sound'
import { Breaks, type Break } from './breaks'

const breaksIn = (legs: Float32Array[], piece = 4096): Break[] => {
  const breaks = new Breaks(legs.length, RATE)
  for (let at = 0; at < legs[0]!.length; at += piece) breaks.feed(legs.map(leg => leg.subarray(at, at + piece)))
  return breaks.read()
}

/** Partials that decay and are struck again softly, over a floor of noise: as a microphone hears it. */
function music(seed: number, frames = 2 * RATE): Float32Array {
  const dice = new Dice(seed)
  const out = whiteNoise(frames, seed, 10 ** (-70 / 20))
  for (let note = 0; note < 12; note++) {
    const at = dice.below(frames - 4000),
      hz = 80 * 2 ** (dice.below(48) / 12),
      loud = 0.02 + 0.1 * dice.next()
    for (let n = at; n < frames; n++) {
      const t = (n - at) / RATE
      const swell = Math.min(1, t / 0.008) * Math.exp(-t * 3)
      for (const k of [1, 2, 3, 5]) out[n]! += ((loud * swell) / k) * Math.sin(2 * Math.PI * hz * k * t)
    }
  }
  return out
}

describe('clicks', () => {
  const SEEDS = Array.from({ length: 30 }, (_, n) => n + 1)

  it('30 dB under the sound are found where they are planted, nine of ten or more, and nothing else', () => {
    let missed = 0
    for (const seed of SEEDS) {
      const clean = music(seed)
      expect(breaksIn([clean]), `seed ${seed}`).toEqual([])
      const at = 5000 + new Dice(seed + 100).below(80_000)
      const around = clean.subarray(at - 200, at + 200)
      const rms = Math.sqrt(around.reduce((sum, x) => sum + x * x, 0) / around.length)
      const broken = clean.slice()
      broken[at]! += Math.max(0.03 * rms, 40 * 10 ** (-70 / 20))
      const [click, ...more] = breaksIn([broken])
      expect(more, `seed ${seed}`).toEqual([])
      if (!click) missed++
      else expect(Math.abs(click.from - at), `seed ${seed}`).toBeLessThan(3)
    }
    expect(missed).toBeLessThanOrEqual(SEEDS.length / 10)
  })

  it('are the same however the audio is cut, and once for all legs', () => {
    const legs = [music(3), music(4)]
    for (const leg of legs) leg[40_000]! += 0.3
    const found = breaksIn(legs)
    expect(found).toHaveLength(1)
    for (const piece of [64, 1000, 96_000]) expect(breaksIn(legs, piece)).toEqual(found)
  })

  it('a cut in the middle of a tone is one; a tone that begins and noise are none', () => {
    const tone = (from: number) =>
      Float32Array.from({ length: RATE }, (_, n) => (n < from ? 0 : 0.3 * Math.sin((2 * Math.PI * 220 * n) / RATE)))
    const cut = tone(0).map((x, n, all) => (n < 20_000 ? x : (all[n - 50] ?? x)))
    expect(breaksIn([cut])).toMatchObject([{ kind: 'click' }])
    expect(breaksIn([tone(20_020)])).toEqual([])
    expect(breaksIn([whiteNoise(RATE, 9)])).toEqual([])
    expect(breaksIn([new Float32Array(RATE)])).toEqual([])
  })
})

describe('gaps', () => {
  const broken = (from: number, frames: number) => {
    const leg = whiteNoise(RATE, 5, 0.1)
    leg.fill(0, from, from + frames)
    return leg
  }

  it('are told to the sample where sound stops dead and comes back', () => {
    for (const frames of [24, 100, 2400])
      expect(breaksIn([broken(10_000, frames)])).toEqual([{ kind: 'gap', from: 10_000, frames }])
  })

  it('also where the last value is held, and over the edges of what is fed', () => {
    const leg = broken(4000, 200).map((x, n, all) => (n >= 4000 && n < 4200 ? all[3999]! : x))
    expect(breaksIn([leg], 50)).toEqual([{ kind: 'gap', from: 3999, frames: 201 }])
  })

  it('a rest is none, nor a fade, nor what never comes back', () => {
    expect(breaksIn([broken(10_000, RATE / 10)])).toEqual([])
    expect(breaksIn([broken(RATE - 500, 500)])).toEqual([])
    const faded = whiteNoise(RATE, 5, 0.1).map((x, n) => x * Math.min(1, Math.abs(n - 10_000) / 10_000))
    faded.fill(0, 9_980, 10_020)
    expect(breaksIn([faded])).toEqual([])
  })
})

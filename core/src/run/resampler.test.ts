// Sines in, sines out: where, how loud, and nothing else beside them; in any pieces.
import { describe, expect, it } from 'vitest'
import { designOf, resampledFrames, Resampler } from './resampler'
import { Dice } from '../testing/generated'

const SECONDS = 0.5
const sine = (hz: number, rate: number, frames = Math.round(rate * SECONDS), gain = 0.5) =>
  Float32Array.from({ length: frames }, (_, i) => gain * Math.sin((2 * Math.PI * hz * i) / rate + 0.3))

/** In pieces of these lengths, again and again. */
function converted(audio: Float32Array[], from: number, to: number, sizes = [4096]): Float32Array[] {
  const r = new Resampler(audio.length, from, to),
    out: Float32Array[][] = audio.map(() => [])
  const take = (piece: Float32Array[]) => piece.forEach((leg, i) => out[i]!.push(leg))
  for (let at = 0, n = 0; at < audio[0]!.length; at += sizes[n++ % sizes.length]!)
    take(r.feed(audio.map(leg => leg.subarray(at, at + sizes[n % sizes.length]!))))
  take(r.end())
  return out.map(list => Float32Array.from(list.flatMap(p => [...p])))
}

/** Away from the ends, where the sine begins and stops: what is off from the sine that it should be, in dBFS. */
function offDb(out: Float32Array, hz: number, rate: number): number {
  const wanted = sine(hz, rate, out.length),
    edge = Math.round(rate * 0.05)
  let sum = 0
  for (let i = edge; i < out.length - edge; i++) sum += (out[i]! - wanted[i]!) ** 2
  return 10 * Math.log10(sum / (out.length - 2 * edge) + 1e-30)
}
function rmsDb(out: Float32Array, rate: number): number {
  const edge = Math.round(rate * 0.05),
    part = out.subarray(edge, out.length - edge)
  return 10 * Math.log10(part.reduce((a, x) => a + x * x, 0) / part.length + 1e-30)
}

const PAIRS = [
  [44100, 48000],
  [48000, 44100],
  [96000, 48000],
  [192000, 44100],
  [8000, 48000],
  [22050, 96000],
  [48000, 192000],
  [44056, 48000],
  [47999, 48000]
] as const

describe('another rate', () => {
  it.each(PAIRS)(
    '%d to %d Hz keeps every sine where and as loud as it is, up to nine tenths of the band',
    (from, to) => {
      const band = Math.min(from, to) / 2
      for (const share of [0.001, 0.03, 0.25, 0.6, 0.9]) {
        const [out] = converted([sine(band * share, from)], from, to)
        expect(out!.length).toBe(resampledFrames(Math.round(from * SECONDS), from, to))
        // 0.01 dB of a sine of this level would be −71 dBFS.
        expect(offDb(out!, band * share, to), `${share}`).toBeLessThan(-118)
      }
    }
  )

  it.each([
    [96000, 48000, 25000],
    [96000, 44100, 22600],
    [192000, 48000, 24300],
    [192000, 48000, 90000],
    [48000, 44100, 22800]
  ])('%d to %d Hz lets nothing of %d Hz through, to −120 dB', (from, to, hz) => {
    const [out] = converted([sine(hz, from)], from, to)
    expect(rmsDb(out!, to) - 20 * Math.log10(0.5 / Math.SQRT2)).toBeLessThan(-120)
  })

  it('leaves no image above the old band', () => {
    // What is not the sine itself, of a sine near the old end: an image would be mirrored about 22.05 kHz.
    const [out] = converted([sine(19_000, 44_100)], 44_100, 96_000)
    expect(offDb(out!, 19_000, 96_000)).toBeLessThan(-118)
  })

  it('gives the same to the bit in whatever pieces it comes, in several legs', () => {
    const dice = new Dice(5)
    const audio = [sine(440, 44_100, 9000), Float32Array.from({ length: 9000 }, () => dice.below(2000) / 1000 - 1)]
    for (const to of [48_000, 22_050, 192_000]) {
      const whole = converted(audio, 44_100, to, [9000])
      for (const sizes of [[1], [7, 1, 4000], [128], [5000]]) expect(converted(audio, 44_100, to, sizes)).toEqual(whole)
    }
  })

  it('of one frame, or of none, has as many frames as it should', () => {
    expect(converted([new Float32Array([1])], 44_100, 96_000)[0]).toHaveLength(2)
    expect(new Resampler(1, 44_100, 48_000).end()[0]).toHaveLength(0)
  })

  it('keeps 0 Hz to the last digit in every phase', () => {
    const { table, taps, phases } = designOf(44_100, 48_000)
    for (let p = 0; p < phases; p++)
      expect(table.subarray(p * taps, (p + 1) * taps).reduce((a, x) => a + x, 0)).toBeCloseTo(1, 6)
  })
})

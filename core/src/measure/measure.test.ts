// Measurements against formulas and independent programs.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { sine, whiteNoise } from '../testing/sound'
import { WavEncoder, wavHeader } from '../formats/wav'
import { delayBetween } from './delay'
import { LoudnessMeter } from './loudness'
import { mismatch, NullMeter } from './null'

const folder = mkdtempSync(join(tmpdir(), 'nullet-measure-'))

function ours(legs: Float32Array[], rate: number) {
  const meter = new LoudnessMeter(legs.length === 2 ? ['L', 'R'] : ['M'], rate)
  for (let at = 0; at < legs[0].length; at += 1777) meter.feed(legs.map(l => l.subarray(at, at + 1777)))
  return meter.read()
}

function ffmpeg(legs: Float32Array[], rate: number) {
  const path = join(folder, 'x.wav')
  writeFileSync(
    path,
    Buffer.concat([wavHeader(legs.length, rate, legs[0].length, '32f'), new WavEncoder('32f').encode(legs)])
  )
  const said = execFileSync('sh', [
    '-c',
    `ffmpeg -hide_banner -i ${path} -af ebur128=peak=true -f null - 2>&1`
  ]).toString()
  const summary = said.slice(said.lastIndexOf('Summary:'))
  return {
    rangeLu: Number(/LRA:\s+(-?[\d.]+) LU/.exec(summary)![1]),
    lufs: Number(/I:\s+(-?[\d.]+) LUFS/.exec(summary)![1]),
    truePeak: Number(/Peak:\s+(-?[\d.]+) dBFS/.exec(summary)![1])
  }
}

/** Bursts of noise and tones with pauses, so that the gates have something to do; soft edges for the true peak. */
function programme(rate: number, seed: number): Float32Array {
  const noise = whiteNoise(rate * 12, seed, 0.4)
  return noise.map((x, n) => {
    const t = n / rate,
      second = Math.floor(t)
    const edge = Math.min(1, (t - second) * 50, (second + 1 - t) * 50)
    return (
      edge *
      (second % 4 === 3 ? 0.0005 * x : second % 2 ? 0.5 * Math.sin(((2 * Math.PI * 11025.3) / 44100) * n) : 0.3 * x)
    )
  })
}

describe('loudness', () => {
  it.each([44100, 48000, 96000])('a 997 Hz sine at −20 dBFS in one of two legs reads −23.0 LUFS at %i Hz', rate => {
    // BS.1770-4: a 0 dBFS 997 Hz sine in one front leg reads −3.01 LKFS.
    const reading = ours([sine(rate * 5, 997, 0.1, rate), new Float32Array(rate * 5)], rate)
    expect(Math.abs(reading.integratedLufs + 23.01)).toBeLessThan(0.03)
  })

  it.each([44100, 48000])('agrees with ffmpeg within 0.2 LU on the loudness range at %i Hz', rate => {
    // Tech 3342: the spread between the 10th and the 95th percentile of short-term loudness, after two gates.
    const swing = (t: number) => (t > 50 ? -62 : -26 + 9 * Math.sin((2 * Math.PI * t) / 25))
    const legs = [5, 6].map(seed => whiteNoise(rate * 64, seed, 1).map((x, n) => x * 10 ** (swing(n / rate) / 20)))
    const range = ours(legs, rate).rangeLu
    expect(range).toBeGreaterThan(10)
    expect(Math.abs(range - ffmpeg(legs, rate).rangeLu)).toBeLessThan(0.2)
  })

  it.each([44100, 48000, 96000])('agrees with ffmpeg within 0.05 LU and 0.2 dB true peak at %i Hz', rate => {
    const legs = [programme(rate, 1), programme(rate, 2)]
    const mine = ours(legs, rate),
      theirs = ffmpeg(legs, rate)
    // ffmpeg prints one decimal: half a step of it is its own rounding.
    expect(Math.abs(mine.integratedLufs - theirs.lufs)).toBeLessThan(0.05 + 0.05)
    expect(Math.abs(mine.truePeakDb - theirs.truePeak)).toBeLessThan(0.2)
  })

  it('silence is −∞', () => expect(ours([new Float32Array(48000)], 48000).integratedLufs).toBe(-Infinity))
})

describe('delay between two signals', () => {
  it.each([0, 3, -17, 250])('finds %i whole samples', whole => {
    const x = whiteNoise(20000, 1)
    const y = Float32Array.from(x, (_, n) => x[n - whole] ?? 0)
    expect(delayBetween(x, y).samples).toBeCloseTo(whole, 2)
  })

  it('finds a fraction at 20 dB signal to noise within 0.01 sample', () => {
    const tone = (n: number) =>
      [0.021, 0.047, 0.083, 0.11, 0.19].reduce((s, f, i) => s + Math.sin(2 * Math.PI * f * n + i), 0)
    const noise = whiteNoise(40000, 5, 0.27)
    const window = (n: number) => Math.sin((Math.PI * n) / 40000) ** 2
    const x = Float32Array.from({ length: 40000 }, (_, n) => window(n) * tone(n))
    const y = Float32Array.from({ length: 40000 }, (_, n) => window(n) * tone(n - 7.38) + noise[n] * window(n))
    expect(Math.abs(delayBetween(x, y).samples - 7.38)).toBeLessThan(0.01)
  })

  it('tells gain and polarity', () => {
    const x = whiteNoise(20000, 1)
    const found = mismatch(
      x,
      x.map(v => v * -0.5)
    )
    expect(found.inverted).toBe(true)
    expect(found.gainDb).toBeCloseTo(-6.0206, 3)
  })
})

describe('null meter', () => {
  it('reads −∞ for identical streams and the level of a difference otherwise', () => {
    const x = whiteNoise(5000, 1)
    const same = new NullMeter()
    same.feed([x], [x])
    expect(same.read().rmsDb).toBe(-Infinity)
    const shifted = new NullMeter()
    shifted.feed([x], [x.map(v => v + 0.001)])
    expect(shifted.read().rmsDb).toBeCloseTo(-60, 2)
    expect(shifted.read().peakDb).toBeCloseTo(-60, 2)
  })
})

// What works at many times the rate, over whole legs in float64: saturation with its curve averaged between samples,
// the limiter's true peaks and its gain, and a stage of a unit that bends.
import type { Leg } from './filters'
import type { Audio, Heard } from './heard'
import { kaiser, normal, sinc } from './windows'

const level = (db: number) => 10 ** (db / 20)
/** At so many times the rate: zeros between the samples, then a filter whose middle is at `centre`. */
function up(x: Leg, times: number, taps: number[], centre: number): (m: number) => number {
  return m => {
    let sum = 0
    for (let k = Math.ceil((m + centre - taps.length + 1) / times); k <= Math.floor((m + centre) / times); k++)
      sum += (x[k] ?? 0) * taps[m + centre - k * times]
    return sum * times
  }
}

const TIMES = 12
/** A low pass of 384 taps about a place, at 0.43 of the old rate under a Kaiser window of β = 9. */
const lowPass = (centre: number) =>
  normal(
    Array.from({ length: 384 }, (_, n) => {
      const x = n - centre
      return sinc((2 * 0.43 * x) / TIMES) * kaiser(x / 192, 9)
    })
  )

/** The antiderivative of v / √(1 + v²) is √(1 + v²): between two samples the curve has its mean. */
export function saturation({ audio, p }: Heard): Audio {
  const drive = level(p.driveDb),
    root = (v: number) => Math.sqrt(1 + v * v)
  const rest = p.bias / root(p.bias)
  const even = lowPass(191.5)
  const down = even.map((v, n) => v - ((even[n - 1] ?? 0) - 2 * v + (even[n + 1] ?? 0)) / 8)
  const rising = lowPass(192)
  return audio.map(x => {
    const from = -384,
      at = up(x, TIMES, rising, 192)
    const bent = Float64Array.from({ length: TIMES * x.length + 800 }, (_, i) => drive * at(i + from) + p.bias)
    const mean = (m: number) => {
      const a = bent[m - from - 1] ?? p.bias,
        b = bent[m - from]
      return (a + b) / (root(a) + root(b)) - rest
    }
    const shaped = bent.map((_, i) => mean(i + from))
    return x.map((_, n) => {
      let sum = 0
      // The mean of two neighbours lies half a step before the later one; so does the middle of the even filter.
      for (let j = 0; j < 384; j++) sum += (shaped[n * TIMES + 192 - j - from] ?? 0) * down[j]
      return (sum * level(p.outputDb)) / drive
    })
  })
}

const PHASES = 16

export function limiter({ audio, p, rate }: Heard): Audio {
  const driven = audio.map(leg => leg.map(x => x * level(p.driveDb)))
  const window = Math.max(2, Math.round((p.lookAheadMs * rate) / 1000))
  const ceiling = level(p.ceilingDb - 0.08 - 0.06 / p.lookAheadMs)
  const release = Math.exp(-1000 / (p.releaseMs * rate))
  const phases = Array.from({ length: PHASES }, (_, phase) =>
    normal(
      Array.from({ length: 32 }, (_, k) => {
        const x = k - 15 - phase / PHASES,
          w = 2 * Math.PI * (x / 32 + 0.5)
        return sinc(x) * (0.42 - 0.5 * Math.cos(w) + 0.08 * Math.cos(2 * w))
      })
    )
  )
  const length = audio[0].length
  const before = window + 16
  /** From `before` samples before the sound to a window behind it. */
  const asked = Float64Array.from({ length: length + 2 * before }, (_, i) => {
    const n = i - before
    let top = 0
    for (const leg of driven)
      for (const taps of phases) {
        let sum = 0
        for (let k = 0; k < 32; k++) sum += (leg[n + k - 15] ?? 0) * taps[k]
        top = Math.max(top, Math.abs(sum))
      }
    return top > ceiling ? ceiling / top : 1
  })
  let held = 1
  const gains = asked.map((_, i) => {
    const lowest = Math.min(...asked.subarray(Math.max(0, i - window + 1), i + 1))
    return (held = lowest < held ? lowest : release * held + (1 - release) * lowest)
  })
  return driven.map(leg =>
    leg.map((x, n) => {
      const over = gains.subarray(before + n, before + n + window)
      return (x * over.reduce((a, b) => a + b, 0)) / window
    })
  )
}

/** A stage of a unit at four times the rate; 63 quarter samples late, as it would be. */
export function bent(x: Leg, drive: number, bias: number): Leg {
  const taps = normal(
    Array.from({ length: 64 }, (_, n) => {
      const t = (2 * Math.PI * (n + 0.5)) / 64
      return (
        sinc(0.225 * (n - 31.5)) *
        (0.35875 - 0.48829 * Math.cos(t) + 0.14128 * Math.cos(2 * t) - 0.01168 * Math.cos(3 * t))
      )
    })
  )
  const curve = (v: number) => v / Math.sqrt(1 + v * v)
  const at = up(x, 4, taps, 0)
  const shaped = Float64Array.from({ length: 4 * x.length }, (_, m) => curve(drive * at(m) + bias) - curve(bias))
  return x.map((_, n) => taps.reduce((sum, tap, k) => sum + tap * (shaped[4 * n + 3 - k] ?? 0), 0) / drive)
}

// Loudness after ITU-R BS.1770-4 and EBU Tech 3341: K-weighting, 400 ms blocks that overlap by 75 %, two gates.
// The standard gives coefficients at 48 kHz; for other rates the analog prototypes behind them are mapped anew.
import { speaker } from '../session/speakers'
import { PI, log10, pow, tan } from '../foundation/elementary'
import { TruePeak } from './truePeak'

type Section = [number, number, number, number, number]

/** The two stages of annex 1: a shelf for the head (+4 dB above 1.7 kHz) and the RLB high-pass. */
export function kWeighting(rate: number): Section[] {
  const shelf = (): Section => {
    const k = tan((PI * 1681.974450955533) / rate),
      q = 0.7071752369554196
    const high = pow(10, 3.999843853973347 / 20),
      mid = pow(high, 0.4996667741545416)
    const a0 = 1 + k / q + k * k
    return [
      (high + (mid * k) / q + k * k) / a0,
      (2 * (k * k - high)) / a0,
      (high - (mid * k) / q + k * k) / a0,
      (2 * (k * k - 1)) / a0,
      (1 - k / q + k * k) / a0
    ]
  }
  const k = tan((PI * 38.13547087602444) / rate),
    q = 0.5003270373238773
  const a0 = 1 + k / q + k * k
  return [shelf(), [1, -2, 1, (2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0]]
}

const lufs = (power: number) => (power > 0 ? -0.691 + 10 * log10(power) : -Infinity)

export interface Loudness {
  integratedLufs: number
  /** EBU Tech 3342; 0 where less than three seconds sound. */ rangeLu: number
  momentaryLufs: number
  shortTermLufs: number
  truePeakDb: number
  samplePeakDb: number
}

/** prepare (constructor) → feed blocks → read. */
export class LoudnessMeter {
  private readonly sections: Section[]
  private readonly states: Float64Array[]
  private readonly truePeak: TruePeak
  private readonly step: number
  private readonly steps: number[] = []
  private sum = 0
  private filled = 0
  private top = 0

  /** @param withTruePeak the dearest part: left out where nobody asks for it; true peak reads −∞ then */
  constructor(
    private readonly layout: readonly string[],
    rate: number,
    private readonly withTruePeak = true
  ) {
    this.sections = kWeighting(rate)
    this.states = layout.map(() => new Float64Array(4))
    this.truePeak = new TruePeak(layout.length)
    this.step = Math.round(rate / 10)
  }

  /** Legs × n. */
  feed(audio: readonly Float32Array[]): void {
    if (this.withTruePeak) this.truePeak.feed(audio)
    const frames = audio[0].length
    for (let done = 0; done < frames;) {
      const run = Math.min(frames - done, this.step - this.filled)
      this.layout.forEach((label, leg) => {
        this.sum += speaker(label).weight * this.power(audio[leg], leg, done, run)
      })
      done += run
      this.filled += run
      if (this.filled === this.step) {
        this.steps.push(this.sum / this.step)
        this.sum = this.filled = 0
      }
    }
  }

  /** Two biquads in their state-space form: what a sample waits for is one product and one sum of the one before. */
  private power(x: Float32Array, leg: number, from: number, frames: number): number {
    const state = this.states[leg]
    const [[b0, b1, b2, a1, a2], [c0, c1, c2, d1, d2]] = this.sections
    const f1 = b1 - a1 * b0,
      f2 = b2 - a2 * b0,
      g1 = c1 - d1 * c0,
      g2 = c2 - d2 * c0
    let [s1, s2, t1, t2] = state
    let sum = 0,
      top = this.top
    for (let n = from; n < from + frames; n++) {
      const v = x[n],
        size = Math.abs(v),
        y = b0 * v + s1,
        z = c0 * y + t1
      if (size > top) top = size
      const s = f1 * v + s2 - a1 * s1
      s2 = f2 * v - a2 * s1
      s1 = s
      const t = g1 * y + t2 - d1 * t1
      t2 = g2 * y - d2 * t1
      t1 = t
      sum += z * z
    }
    this.top = top
    state.set([s1, s2, t1, t2].map(v => (Math.abs(v) < 1e-15 ? 0 : v)))
    return sum
  }

  /** Mean powers of all windows of so many 100 ms steps. */
  private windows(length: number): number[] {
    const out: number[] = []
    for (let i = length; i <= this.steps.length; i++) {
      let sum = 0
      for (let k = i - length; k < i; k++) sum += this.steps[k]
      out.push(sum / length)
    }
    return out
  }

  /** What a running display shows: the last 400 ms, and the highest true peak so far. */
  now(): { momentaryLufs: number; truePeakDb: number } {
    const last = this.steps.slice(-4)
    return {
      momentaryLufs: last.length ? lufs(last.reduce((a, b) => a + b, 0) / last.length) : -Infinity,
      truePeakDb: this.truePeak.readDb()
    }
  }

  /**
   * Loudness range after EBU Tech 3342: from the 10th to the 95th percentile of the short-term values above −70 LUFS
   * and −20 LU.
   */
  private range(): number {
    const windows = this.windows(30).filter(p => lufs(p) > -70)
    const gate = windows.length ? lufs(windows.reduce((a, b) => a + b, 0) / windows.length) - 20 : 0
    const kept = windows
      .map(lufs)
      .filter(l => l > gate)
      .sort((a, b) => a - b)
    const at = (share: number) => kept[Math.round(share * (kept.length - 1))]!
    return kept.length ? at(0.95) - at(0.1) : 0
  }

  read(): Loudness {
    const blocks = this.windows(4)
    const mean = (list: number[]) => list.reduce((a, b) => a + b, 0) / list.length
    const loud = blocks.filter(p => lufs(p) > -70)
    const gate = loud.length ? lufs(mean(loud)) - 10 : -Infinity
    const kept = loud.filter(p => lufs(p) > gate)
    const highest = (list: number[]) => (list.length ? lufs(Math.max(...list)) : -Infinity)
    return {
      integratedLufs: kept.length ? lufs(mean(kept)) : -Infinity,
      rangeLu: this.range(),
      momentaryLufs: highest(blocks),
      shortTermLufs: highest(this.windows(30)),
      truePeakDb: this.truePeak.readDb(),
      samplePeakDb: this.top > 0 ? 20 * log10(this.top) : -Infinity
    }
  }
}

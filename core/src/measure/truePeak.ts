// True peak after ITU-R BS.1770-4 annex 2: four times oversampled by a polyphase FIR of 4 × 12 taps.
import { PI, cos, decibels, sin } from '../foundation/elementary'

const PHASES = 4,
  TAPS = 12

/** Windowed sinc (Hann over 48 taps), each phase with unit gain at 0 Hz. */
const filters: Float64Array[] = Array.from({ length: PHASES }, (_, phase) => {
  const taps = Float64Array.from({ length: TAPS }, (_, k) => {
    const x = k - TAPS / 2 + 1 - phase / PHASES
    const window = 0.5 + 0.5 * cos((PI * x) / (TAPS / 2))
    return (x === 0 ? 1 : sin(PI * x) / (PI * x)) * (Math.abs(x) < TAPS / 2 ? window : 0)
  })
  const sum = taps.reduce((a, b) => a + b, 0)
  return taps.map(t => t / sum)
})

/** No filter can make more of a stretch than this times its highest sample: quieter stretches need not be filtered. */
const MOST_GAIN = Math.max(...filters.map(h => h.reduce((a, b) => a + Math.abs(b), 0)))
const STRETCH = 32

export class TruePeak {
  private readonly history: Float64Array[]
  private top = 0

  constructor(legs: number) {
    this.history = Array.from({ length: legs }, () => new Float64Array(TAPS - 1))
  }

  feed(audio: readonly Float32Array[]): void {
    audio.forEach((leg, i) => {
      const line = new Float64Array(TAPS - 1 + leg.length)
      line.set(this.history[i])
      line.set(leg, TAPS - 1)
      for (let n = 0; n < leg.length; n += STRETCH) {
        const end = Math.min(n + STRETCH, leg.length)
        let highest = 0
        for (let m = n; m < end + TAPS - 1; m++) {
          const a = Math.abs(line[m])
          if (a > highest) highest = a
        }
        if (highest * MOST_GAIN > this.top) this.filter(line, n, end)
      }
      this.history[i].set(line.subarray(leg.length))
    })
  }

  private filter(line: Float64Array, from: number, to: number): void {
    let top = this.top
    for (const h of filters) {
      for (let n = from; n < to; n++) {
        let y = 0
        for (let k = 0; k < TAPS; k++) y += h[k] * line[n + TAPS - 1 - k]
        const a = y < 0 ? -y : y
        if (a > top) top = a
      }
    }
    this.top = top
  }

  readDb(): number {
    return decibels(this.top)
  }
}

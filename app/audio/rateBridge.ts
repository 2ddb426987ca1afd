// From the session's rate to the output's, where the browser has no output at the session's rate: a windowed sinc of 32
// samples (Blackman), interpolated between 256 phases. J. O. Smith, "Digital audio resampling", 1984.
const TAPS = 32,
  PHASES = 256

/** Phase after phase, one more than there are, so that the last one has a next. */
function table(cut: number): Float32Array {
  const out = new Float32Array((PHASES + 1) * TAPS)
  for (let p = 0; p <= PHASES; p++) {
    let sum = 0
    for (let k = 0; k < TAPS; k++) {
      const x = k - (TAPS / 2 - 1) - p / PHASES,
        w = 2 * Math.PI * (x / TAPS + 0.5)
      const h =
        (x === 0 ? cut : Math.sin(Math.PI * cut * x) / (Math.PI * x)) *
        (0.42 - 0.5 * Math.cos(w) + 0.08 * Math.cos(2 * w))
      out[p * TAPS + k] = h
      sum += h
    }
    for (let k = 0; k < TAPS; k++) out[p * TAPS + k]! /= sum
  }
  return out
}

export class RateBridge {
  private readonly taps: Float32Array
  /** Place in the input between its last taken frame and the next, 0 … 1. */
  private place = 0

  /** @param step input frames an output frame */
  constructor(private readonly step: number) {
    this.taps = table(Math.min(1, 1 / step) * 0.95)
  }

  /** Input frames that have to be there for so many output frames. */
  needs(frames: number): number {
    return Math.ceil(this.place + frames * this.step) + TAPS
  }

  /**
   * Writes `into` from a ring of which frame `from` is the next. Returns the input frames that are done with.
   * Late by 15 input frames.
   */
  run(ring: Float32Array, from: number, into: Float32Array, frames: number): number {
    for (let n = 0; n < frames; n++) {
      const place = this.place + n * this.step,
        whole = Math.floor(place),
        phase = (place - whole) * PHASES
      const p = Math.floor(phase),
        share = phase - p
      let y = 0
      for (let k = 0; k < TAPS; k++) {
        const a = this.taps[p * TAPS + k]!,
          b = this.taps[(p + 1) * TAPS + k]!
        y += ring[(from + whole + k) % ring.length]! * (a + (b - a) * share)
      }
      into[n] = y
    }
    return Math.floor(this.place + frames * this.step)
  }

  /** After all legs of a block have run. */
  advance(frames: number): void {
    const p = this.place + frames * this.step
    this.place = p - Math.floor(p)
  }
}

// What a waveform drawing needs: the lowest and highest sample of every 256 frames, over all legs, as 16-bit pairs.

export const PEAK_FRAMES = 256

export class PeakBuilder {
  private data = new Int16Array(4096)
  private used = 0
  private low = 0
  private high = 0
  private count = 0

  feed(audio: readonly Float32Array[]): void {
    const frames = audio[0].length
    for (let at = 0; at < frames;) {
      const run = Math.min(frames - at, PEAK_FRAMES - this.count)
      let { low, high } = this
      for (const leg of audio) {
        for (let n = at; n < at + run; n++) {
          const x = leg[n]
          if (x < low) low = x
          else if (x > high) high = x
        }
      }
      this.low = low
      this.high = high
      at += run
      this.count += run
      if (this.count === PEAK_FRAMES) this.push()
    }
  }

  private push(): void {
    if (this.used + 2 > this.data.length) {
      const grown = new Int16Array(this.data.length * 2)
      grown.set(this.data)
      this.data = grown
    }
    const clip = (x: number) => Math.max(-32767, Math.min(32767, Math.round(x * 32767)))
    this.data[this.used++] = clip(this.low)
    this.data[this.used++] = clip(this.high)
    this.low = this.high = this.count = 0
  }

  /** Pairs low, high. */
  finish(): Int16Array<ArrayBuffer> {
    if (this.count) this.push()
    return this.data.slice(0, this.used)
  }
}

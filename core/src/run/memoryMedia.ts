// Media held in memory: for tests, pings and short renders.
import type { MediaReader } from './mediaReader'

export class MemoryMedia implements MediaReader {
  private readonly audio = new Map<string, Float32Array[]>()

  set(medium: string, legs: Float32Array[]): this {
    this.audio.set(medium, legs)
    return this
  }

  read(medium: string, from: number, frames: number): Float32Array[] {
    return this.audio.get(medium)!.map(leg => {
      const out = new Float32Array(frames)
      out.set(leg.subarray(from, from + frames))
      return out
    })
  }
}

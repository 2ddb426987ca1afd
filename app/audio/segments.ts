// Audio for the engine's worker: parts of media, fetched many at a time, the next ones before they are needed.
import type { MediaReader } from '@nullet/core/run/mediaReader'

const SEGMENT = 16384
const MOST_BYTES = 400 * 2 ** 20

export interface MediumShape {
  sha256: string
  legs: number
  frames: number
}

const keyOf = (shape: MediumShape, index: number) => `${shape.sha256}/${shape.legs}/${index}`

export class Segments implements MediaReader {
  private readonly kept = new Map<string, Float32Array[]>()
  private readonly coming = new Map<string, Promise<void>>()
  private shapes = new Map<string, MediumShape>()
  private bytes = 0
  private batch: { key: string; sha256: string; index: number; legs: number }[] = []
  private sending: Promise<void> | null = null

  setMedia(media: Map<string, MediumShape>): void {
    this.shapes = media
  }

  read(medium: string, from: number, frames: number): Float32Array[] | Promise<Float32Array[]> {
    const shape = this.shapes.get(medium)!
    const first = Math.floor(from / SEGMENT),
      last = Math.floor((from + frames - 1) / SEGMENT)
    const missing: Promise<void>[] = []
    for (let i = first; i <= last; i++)
      if (i * SEGMENT < shape.frames && !this.kept.has(keyOf(shape, i))) missing.push(this.want(shape, i))
    for (let i = last + 1; i <= last + 3; i++) if (i * SEGMENT < shape.frames) this.want(shape, i).catch(() => {})
    if (!missing.length) return this.cut(shape, from, frames)
    return Promise.all(missing).then(() => this.cut(shape, from, frames))
  }

  private cut(shape: MediumShape, from: number, frames: number): Float32Array[] {
    const out = Array.from({ length: shape.legs }, () => new Float32Array(frames))
    for (let at = from; at < from + frames;) {
      const index = Math.floor(at / SEGMENT),
        start = at - index * SEGMENT
      const n = Math.min(SEGMENT - start, from + frames - at)
      const key = keyOf(shape, index)
      const segment = this.kept.get(key)
      if (segment) {
        segment.forEach((leg, i) => out[i].set(leg.subarray(start, start + n), at - from))
        this.kept.delete(key) // the last used goes to the end
        this.kept.set(key, segment)
      }
      at += n
    }
    return out
  }

  private want(shape: MediumShape, index: number): Promise<void> {
    const key = keyOf(shape, index)
    if (this.kept.has(key)) return Promise.resolve()
    const coming = this.coming.get(key)
    if (coming) return coming
    this.batch.push({ key, sha256: shape.sha256, index, legs: shape.legs })
    // Everything that is asked for in one go travels in one request.
    this.sending ??= Promise.resolve().then(() => {
      const batch = this.batch
      this.batch = []
      this.sending = null
      return this.fetch(batch)
    })
    const done = this.sending.finally(() => this.coming.delete(key))
    this.coming.set(key, done)
    return done
  }

  private async fetch(batch: typeof this.batch): Promise<void> {
    for (let at = 0; at < batch.length; at += 400) {
      const part = batch.slice(at, at + 400)
      const answer = await fetch('/api/media/segments', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({
          parts: part.map(p => ({ sha256: p.sha256, legs: p.legs, from: p.index * SEGMENT, frames: SEGMENT }))
        })
      })
      if (!answer.ok) throw new Error('audio could not be read from the server')
      const all = await answer.arrayBuffer()
      let offset = 0
      for (const p of part) {
        this.kept.set(
          p.key,
          Array.from({ length: p.legs }, () => {
            const leg = new Float32Array(all, offset, SEGMENT)
            offset += SEGMENT * 4
            return leg.slice()
          })
        )
        this.bytes += p.legs * SEGMENT * 4
      }
    }
    for (const [key, segment] of this.kept) {
      if (this.bytes <= MOST_BYTES) break
      this.kept.delete(key)
      this.bytes -= segment.length * SEGMENT * 4
    }
  }
}

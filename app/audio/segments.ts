// Audio for the engine's worker: parts of media, fetched many at a time, the next ones before they are needed.
import type { MediaReader } from '@nullet/core/run/mediaReader'
import type { Session } from '@nullet/core/session/session'

const SEGMENT = 16384
const MOST_BYTES = 400 * 2 ** 20
/** Of one request. */
const MOST_PARTS = 400,
  MOST_LEGS = 800

export interface MediumShape {
  sha256: string
  legs: number
  frames: number
}

export const mediaOf = ({ medium }: Session): Map<string, MediumShape> =>
  new Map(Object.values(medium).map(m => [m.id, { sha256: m.sha256, legs: m.legs, frames: m.frames }]))

interface Part {
  key: string
  sha256: string
  index: number
  legs: number
}

const keyOf = (shape: MediumShape, index: number) => `${shape.sha256}/${shape.legs}/${index}`

export class Segments implements MediaReader {
  private readonly kept = new Map<string, Float32Array[]>()
  private readonly coming = new Map<string, Promise<void>>()
  private shapes = new Map<string, MediumShape>()
  private bytes = 0
  /** What is waited for, and what comes next; the latter travels when nobody waits. */
  private wanted: Part[] = []
  private soon = new Map<string, Part>()
  private sending: Promise<void> | null = null
  private following = false

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
    for (let i = last + 1; i <= last + 3; i++) if (i * SEGMENT < shape.frames) this.foresee(shape, i)
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
    const coming = this.coming.get(key)
    if (coming) return coming
    this.soon.delete(key)
    this.wanted.push({ key, sha256: shape.sha256, index, legs: shape.legs })
    // Everything that is asked for in one go travels together.
    this.sending ??= Promise.resolve().then(() => {
      const parts = this.wanted
      this.wanted = []
      this.sending = null
      return this.fetch(parts)
    })
    const done = this.sending.finally(() => {
      this.coming.delete(key)
      void this.follow()
    })
    this.coming.set(key, done)
    return done
  }

  /** What will be needed next is fetched once nobody waits for anything. */
  private foresee(shape: MediumShape, index: number): void {
    const key = keyOf(shape, index)
    if (this.kept.has(key) || this.coming.has(key)) return
    this.soon.set(key, { key, sha256: shape.sha256, index, legs: shape.legs })
    void Promise.resolve().then(() => this.follow())
  }

  private async follow(): Promise<void> {
    if (this.following || this.coming.size) return
    this.following = true
    while (this.soon.size && !this.coming.size) {
      const parts = [...this.soon.values()].slice(0, MOST_PARTS / 4)
      const done = this.fetch(parts)
      for (const { key } of parts) {
        this.soon.delete(key)
        this.coming.set(key, done)
      }
      // Whoever waits for one of them meanwhile hears of a failure; else it is asked for again when it is needed.
      await done.catch(() => undefined)
      for (const { key } of parts) this.coming.delete(key)
    }
    this.following = false
  }

  private async fetch(batch: readonly Part[]): Promise<void> {
    for (const part of requests(batch)) {
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

/** In pieces that one answer can hold. */
function requests(batch: readonly Part[]): Part[][] {
  const out: Part[][] = []
  let legs = Infinity
  for (const part of batch) {
    legs += part.legs
    if (legs > MOST_LEGS || out.at(-1)!.length === MOST_PARTS) {
      out.push([])
      legs = part.legs
    }
    out.at(-1)!.push(part)
  }
  return out
}

// Audio for the sources of a plan: read from media 4096 frames at a time, so that what is not there yet comes in one
// request, and laid where the kernels read it in pieces small enough to stay in the cache until they have.
import { gainOf } from '../foundation/elementary'
import type { PlanSource } from '../compile/plan'
import { CHUNK, STAGE } from '../plan/operations'
import type { Row } from '../session/rows'
import { clipLength, type Session } from '../session/session'
import { clipsOf } from './clipsOf'
import { END_FADE, fadeAfter } from './ends'
import type { Machine } from './machine'
import type { MediaReader } from './mediaReader'

/** What a clip has of a chunk. */
interface Stretch {
  clip: Row<'clip'>
  /** Frames of the clip. */
  length: number
  /** Source time at which the audio begins. */
  from: number
  audio: Float32Array[]
  gain: number
}

/** A chunk that is on its way. */
interface Coming {
  from: number
  done: Promise<void>
}

export class Sources {
  private clips = new Map<string, Row<'clip'>[]>()
  private session!: Session
  private end = Infinity
  /** Source time up to which audio is read, and laid out. */
  private readTo = -1
  private laidTo = -1
  private coming: Coming | null = null
  /** Of the chunk that is read, source by source, in order of id of the clips. */
  private stretches: Stretch[][] = []
  private readonly staging: Float32Array[][]

  constructor(
    private readonly sources: readonly PlanSource[],
    private readonly media: MediaReader,
    machine: Machine
  ) {
    this.staging = sources.map(({ key }) => machine.stagingOf(key))
  }

  setSession(session: Session): void {
    this.session = session
    this.clips = clipsOf(session, this.sources)
    this.forget()
  }

  /** From this frame of source time on clips fade. @returns did they not until now? */
  endAt(frame: number): boolean {
    if (frame === this.end) return false
    this.end = frame
    this.forget()
    return true
  }

  /** Time goes on from somewhere else: all is read again. */
  forget(): void {
    this.readTo = this.laidTo = -1
    this.coming = null
  }

  /** Lays out what the block at a frame needs. @returns what has to be waited for before this is asked again */
  lay(frame: number): Promise<void> | undefined {
    if (frame < this.laidTo) return undefined
    const from = Math.floor(frame / CHUNK) * CHUNK
    if (frame >= this.readTo && this.coming?.from !== from) this.read(from)
    if (frame >= this.readTo) return this.coming!.done
    this.layFrom(Math.floor(frame / STAGE) * STAGE)
    return undefined
  }

  private read(from: number): void {
    // All are asked for before the first is waited for.
    const all = this.sources.map(source => this.stretchesOf(source, from))
    if (!all.some(s => s instanceof Promise)) {
      this.take(from, all as Stretch[][])
      return
    }
    const done = Promise.all(all).then(stretches => {
      if (this.coming === coming) this.take(from, stretches)
    })
    const coming: Coming = { from, done }
    this.coming = coming
    // Whoever waits for it hears of a failure; who comes later asks again.
    done.catch(() => {
      if (this.coming === coming) this.coming = null
    })
  }

  private take(from: number, stretches: Stretch[][]): void {
    this.stretches = stretches
    this.readTo = from + CHUNK
    this.coming = null
  }

  private stretchesOf({ key }: PlanSource, from: number): Stretch[] | Promise<Stretch[]> {
    const reading: (Stretch | Promise<Stretch>)[] = []
    for (const clip of this.clips.get(key)!) {
      if (from >= this.end + END_FADE) break
      const length = clipLength(this.session, clip)
      const begin = Math.max(from, clip.startFrame),
        end = Math.min(from + CHUNK, clip.startFrame + length)
      if (begin >= end) continue
      const stretch = (audio: Float32Array[]) => ({ clip, length, from: begin, audio, gain: gainOf(clip.gainDb) })
      const audio = this.media.read(clip.medium, clip.offsetFrames + begin - clip.startFrame, end - begin)
      reading.push(audio instanceof Promise ? audio.then(stretch) : stretch(audio))
    }
    return reading.some(s => s instanceof Promise) ? Promise.all(reading) : (reading as Stretch[])
  }

  private layFrom(from: number): void {
    for (let i = 0; i < this.staging.length; i++) {
      const legs = this.staging[i]
      let isFirst = true
      for (const stretch of this.stretches[i]) if (addStretch(legs, from, stretch, isFirst)) isFirst = false
      if (isFirst) for (const leg of legs) leg.fill(0)
      if (from + STAGE > this.end) fadeAfter(legs, from, this.end)
    }
    this.laidTo = from + STAGE
  }
}

/**
 * @param legs legs × 512 frames of source time from `from` on
 * @param isFirst what lies there is of another time: what needs no gain is copied over it as it is
 * @returns does it reach here?
 */
function addStretch(legs: Float32Array[], from: number, stretch: Stretch, isFirst: boolean): boolean {
  const { clip, length, audio, gain } = stretch
  const begin = Math.max(from, stretch.from),
    end = Math.min(from + STAGE, stretch.from + audio[0].length)
  if (begin >= end) return false
  const at = begin - from,
    position = begin - clip.startFrame
  const { fadeInFrames: fadeIn, fadeOutFrames: fadeOut } = clip
  const isFading = position < fadeIn || position + end - begin > length - fadeOut
  for (let i = 0; i < legs.length; i++) {
    const leg = legs[i],
      whole = audio[clip.legMap ? (clip.legMap[i] ?? -1) : audio.length === 1 ? 0 : i]
    const isCopied = isFirst && !!whole && !isFading && gain === 1
    if (isFirst && !(isCopied && end - begin === STAGE)) leg.fill(0)
    if (!whole) continue
    const x = whole.subarray(begin - stretch.from, end - stretch.from)
    if (isCopied) leg.set(x, at)
    else if (!isFading) for (let n = 0; n < x.length; n++) leg[at + n] += x[n] * gain
    else
      for (let n = 0; n < x.length; n++) {
        const p = position + n
        const rise = p < fadeIn ? p / fadeIn : 1
        const fall = p >= length - fadeOut ? (length - p) / fadeOut : 1
        leg[at + n] += x[n] * gain * rise * fall
      }
  }
  return true
}

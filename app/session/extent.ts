// From where to where is printed: all of it, the marked range, bars; and how long what rings is let ring.
import { frameOfBeat } from '@nullet/core/notes/tempo'
import { clipFrames, sessionFrames } from '@nullet/core/graph/sessionLength'
import { settings, type Session } from '@nullet/core/session/session'

export interface Extent {
  of: 'all' | 'marked' | 'bars'
  /** The first bar and the last, counted from 1, both printed. */
  fromBar: number
  toBar: number
  tail: 'declared' | 'quiet' | 'fixed'
  tailS: number
  /** Seconds that a pass through units runs before what is printed, and behind it. */
  preRollS: number
  postRollS: number
}
export const ALL: Extent = { of: 'all', fromBar: 1, toBar: 8, tail: 'declared', tailS: 4, preRollS: 2, postRollS: 1 }

/** Peak below which what rings has rung out, and how long it is waited for. */
export const QUIET = { untilDb: -90, mostS: 60 }

export interface Printed {
  from: number
  /** Null: to the end, however long that is found to be. */
  frames: number | null
  tail: typeof QUIET | null
  /** What is known of its length beforehand, in frames. */
  about: number
  /** Why it cannot be, in a sentence. */
  refused: string | null
}

/** @param marked the marked range, in frames of source time */
export function printedRange(session: Session, extent: Extent, marked: { from: number; to: number } | null): Printed {
  const { sampleRate, tempo, beatsPerBar } = settings(session)
  const extra = extent.tail === 'fixed' ? Math.round(extent.tailS * sampleRate) : 0
  const end = clipFrames(session)
  const stretch = (from: number, to: number): Printed => ({
    from: Math.round(from),
    frames: Math.max(1, Math.round(to - from) + extra),
    tail: null,
    about: Math.round(to - from) + extra,
    refused: from >= Math.max(end, 1) ? 'nothing is played after where that begins: choose an earlier range' : null
  })
  if (extent.of === 'marked')
    return marked
      ? stretch(marked.from, marked.to)
      : { ...stretch(0, 1), refused: 'no range is marked: mark one on the time line below' }
  if (extent.of === 'bars') {
    const frame = (bar: number) => frameOfBeat(tempo, (bar - 1) * beatsPerBar, sampleRate)
    const found = stretch(frame(extent.fromBar), frame(extent.toBar + 1))
    return extent.toBar < extent.fromBar ? { ...found, refused: 'the last bar lies before the first' } : found
  }
  if (extent.tail === 'fixed') return { ...stretch(0, end), refused: null }
  const about = extent.tail === 'quiet' ? end : sessionFrames(session)
  return { from: 0, frames: null, tail: extent.tail === 'quiet' ? QUIET : null, about, refused: null }
}

/** In frames. */
export const rollOf = ({ preRollS, postRollS }: Extent, sampleRate: number) => ({
  pre: Math.round(preRollS * sampleRate),
  post: Math.round(postRollS * sampleRate)
})

/** Seconds that a pass through real units takes, its rolls with it. */
export const passSeconds = (frames: number, { preRollS, postRollS }: Extent, sampleRate: number): number =>
  frames / sampleRate + preRollS + postRollS

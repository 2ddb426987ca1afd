// The places of a print where its pass went wrong: gathered, in words, and the bars that are run again for them.
import type { Break } from '../measure/breaks'
import { MOST_FAULTS, type Fault } from '../session/rows'
import type { Span } from './runAgain'

const end = ({ from, frames }: Span) => from + frames
export const overlaps = (a: Span, b: Span): boolean => a.from < end(b) && b.from < end(a)

/** Breaks of audio whose first frame is this one of source time. */
export const breakFaults = (breaks: readonly Break[], first: number): Fault[] =>
  breaks.map(b => ({ ...b, from: first + b.from, what: '', overDb: null }))

/** In order of time; of more than a row keeps, the longest. What breaks because it is lost is told once. */
export function gathered(faults: readonly Fault[], range: Span): Fault[] {
  const lost = faults.filter(f => f.kind === 'lost')
  const inside = faults.flatMap(f => {
    const from = Math.max(f.from, range.from),
      to = Math.min(end(f), end(range))
    return to > from ? [{ ...f, from, frames: to - from }] : []
  })
  return inside
    .filter(f => f.kind === 'lost' || !lost.some(l => overlaps(l, { from: f.from - 1, frames: f.frames + 2 })))
    .toSorted((a, b) => b.frames - a.frames)
    .slice(0, MOST_FAULTS)
    .toSorted((a, b) => a.from - b.from)
}

/**
 * The ranges that are run again for these: where two are nearer than twice the seam they are one.
 * @param seam frames on either side in which what was kept passes into what is new
 */
export function toRunAgain(faults: readonly Span[], seam: number, range: Span): Span[] {
  const out: Span[] = []
  for (const fault of faults.toSorted((a, b) => a.from - b.from)) {
    const from = Math.max(range.from, fault.from - seam),
      to = Math.min(end(range), end(fault) + seam)
    const last = out.at(-1)
    if (last && from - end(last) <= 2 * seam) last.frames = Math.max(end(last), to) - last.from
    else out.push({ from, frames: to - from })
  }
  return out
}

const WORDS: Record<Fault['kind'], (fault: Fault, sampleRate: number) => string> = {
  clipped: ({ what, overDb }) => `${what} clipped, ${(overDb ?? 0).toFixed(1)} dB over`,
  lost: ({ what }) => what,
  gap: ({ frames }, rate) => `sound breaks off for ${((1000 * frames) / rate).toFixed(1)} ms`,
  click: () => 'a click'
}
export const faultText = (fault: Fault, sampleRate: number): string => WORDS[fault.kind](fault, sampleRate)

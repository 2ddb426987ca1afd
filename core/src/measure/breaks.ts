// Where recorded audio breaks: samples that jump out of what lies before and after them, and sound that stops dead and
// comes back. A click is what linear prediction misses by far, and only there (Vaseghi, Rayner: Detection and
// suppression of impulsive noise in speech communication systems, 1990); an attack is missed many samples in a row, a
// voice at every pulse.
import { PI, sin } from '../foundation/elementary'
import type { Fault } from '../session/rows'

/** Frames from the first that was fed. */
export type Break = { kind: Extract<Fault['kind'], 'gap' | 'click'>; from: number; frames: number }

const WINDOW = 1024
const HOP = WINDOW / 2
const ORDER = 16
/** A click is missed by so many times what is usual, and by so many times the next that is missed. */
const OVER_USUAL = 20
const OVER_NEXT = 4
/** Below so many times the mean there is none: what is usual need not be asked for. */
const WORTH_A_LOOK = 8
/** As loud before it as behind it, to so many times: where sound begins or ends it is an attack or a cut. */
const AS_LOUD = { samples: 192, times: 2 }
/** Of what rings in the prediction behind one click. */
const LONGEST_CLICK = ORDER + 8
/** What is nearer belongs to the same. */
const APART = 2 * ORDER
/** Predictions are not trusted nearer to silence than this. */
const LEAST = 10 ** (-90 / 20)

/** Sound that stands still for so long, with sound of this level right before and behind it. */
const GAP_S = { least: 0.0005, most: 0.06, edge: 0.001 }
const GAP_LEVEL = 10 ** (-60 / 20)

/** Feed it legs × n, in order. Its memory does not grow but by what it finds. */
export class Breaks {
  private readonly window: Float32Array[]
  private readonly gaps: Gaps[]
  private fill = 0
  /** Frame of the window's first sample. */
  private at = 0
  private readonly found: Break[] = []

  constructor(legs: number, sampleRate: number) {
    this.window = Array.from({ length: legs }, () => new Float32Array(WINDOW))
    this.gaps = Array.from({ length: legs }, () => new Gaps(sampleRate, b => this.found.push(b)))
  }

  feed(audio: readonly Float32Array[]): void {
    audio.forEach((leg, i) => this.gaps[i]!.feed(leg))
    const frames = audio[0]?.length ?? 0
    for (let n = 0; n < frames;) {
      const count = Math.min(WINDOW - this.fill, frames - n)
      audio.forEach((leg, i) => this.window[i]!.set(leg.subarray(n, n + count), this.fill))
      this.fill += count
      n += count
      if (this.fill < WINDOW) continue
      this.look()
      for (const leg of this.window) leg.copyWithin(0, HOP)
      this.fill = HOP
      this.at += HOP
    }
  }

  private look(): void {
    // Each place is looked at once, in the middle of its window; the first window from its beginning.
    const lo = this.at === 0 ? 0 : HOP / 2,
      hi = WINDOW - HOP / 2
    for (const leg of this.window) {
      const click = clickIn(leg)
      if (click && click.from >= lo && click.from < hi)
        this.found.push({ kind: 'click', from: this.at + click.from, frames: click.frames })
    }
  }

  /** What was found up to now, in order, the same place once for all legs. */
  read(): Break[] {
    const sorted = this.found.toSorted((a, b) => a.from - b.from)
    return sorted.filter((b, i) => !sorted.slice(0, i).some(o => o.kind === b.kind && b.from < o.from + o.frames))
  }
}

/** The click in a window, if there is one: in samples of the window. */
function clickIn(window: Float32Array): { from: number; frames: number } | null {
  if (!residual(window)) return null
  let sum = 0,
    peak = 0
  for (let n = ORDER; n < WINDOW; n++) {
    sum += missed[n]!
    if (missed[n]! > peak) peak = missed[n]!
  }
  if (peak < (WORTH_A_LOOK * sum) / (WINDOW - ORDER)) return null
  const usual = Math.max(LEAST, middle(missed) / 0.6745)
  const groups: { from: number; to: number; peak: number }[] = []
  for (let n = ORDER; n < WINDOW; n++) {
    const size = missed[n]!
    if (size < (OVER_USUAL / OVER_NEXT) * usual) continue
    const last = groups.at(-1)
    if (last && n - last.to < APART) {
      last.to = n
      last.peak = Math.max(last.peak, size)
    } else groups.push({ from: n, to: n, peak: size })
  }
  groups.sort((a, b) => b.peak - a.peak)
  const [first, next] = groups
  if (!first || first.peak < OVER_USUAL * usual || first.to - first.from > LONGEST_CLICK) return null
  if (next && next.peak * OVER_NEXT > first.peak) return null
  const before = level(window, first.from - AS_LOUD.samples, first.from),
    behind = level(window, first.to + 1, first.to + 1 + AS_LOUD.samples)
  if (Math.max(before, behind) > AS_LOUD.times * Math.min(before, behind)) return null
  return { from: first.from, frames: first.to - first.from + 1 }
}

function level(window: Float32Array, from: number, to: number): number {
  let sum = 0
  const begin = Math.max(0, from),
    end = Math.min(WINDOW, to)
  for (let n = begin; n < end; n++) sum += window[n]! * window[n]!
  return Math.sqrt(sum / Math.max(1, end - begin))
}

const HANN = Float64Array.from({ length: WINDOW }, (_, n) => sin((PI * (n + 0.5)) / WINDOW) ** 2)

// One window at a time: every look uses the same.
const shaped = new Float64Array(WINDOW)
const missed = new Float64Array(WINDOW)

/** By how much each sample is missed by its prediction from those before it, into `missed`; false in silence. */
function residual(window: Float32Array): boolean {
  for (let n = 0; n < WINDOW; n++) shaped[n] = window[n]! * HANN[n]!
  const r = new Float64Array(ORDER + 1)
  for (let lag = 0; lag <= ORDER; lag++) {
    let sum = 0
    for (let n = lag; n < WINDOW; n++) sum += shaped[n]! * shaped[n - lag]!
    r[lag] = sum
  }
  if (r[0]! < LEAST * LEAST * WINDOW) return false
  const a = predictor(r)
  for (let n = ORDER; n < WINDOW; n++) {
    let sum = 0
    for (let k = 0; k <= ORDER; k++) sum += a[k]! * window[n - k]!
    missed[n] = Math.abs(sum)
  }
  return true
}

/** Levinson and Durbin: 1, a1 … aORDER from an autocorrelation, made a little whiter so that it can be solved. */
function predictor(r: Float64Array): Float64Array {
  const a = new Float64Array(ORDER + 1),
    before = new Float64Array(ORDER + 1)
  a[0] = 1
  let error = r[0]! * (1 + 1e-9)
  for (let m = 1; m <= ORDER; m++) {
    let sum = r[m]!
    for (let k = 1; k < m; k++) sum += a[k]! * r[m - k]!
    const reflection = -sum / error
    before.set(a)
    for (let k = 1; k < m; k++) a[k] = before[k]! + reflection * before[m - k]!
    a[m] = reflection
    error *= 1 - reflection * reflection
  }
  return a
}

const middle = (values: Float64Array): number => values.slice(ORDER).sort()[(WINDOW - ORDER) >> 1]!

/** Runs of equal samples in one leg between sound. */
class Gaps {
  private readonly least: number
  private readonly most: number
  private readonly edge: number
  private n = 0
  private value = NaN
  private run = 0
  /** Frame of the last sample that was loud, and whether it lay right before the run. */
  private lastLoud = -Infinity
  private loudBefore = false
  /** A run that is over, until what comes behind it is known. */
  private over: { from: number; frames: number; until: number } | null = null

  constructor(
    sampleRate: number,
    private readonly tell: (b: Break) => void
  ) {
    this.least = Math.ceil(GAP_S.least * sampleRate)
    this.most = Math.floor(GAP_S.most * sampleRate)
    this.edge = Math.ceil(GAP_S.edge * sampleRate)
  }

  feed(leg: Float32Array): void {
    for (let i = 0; i < leg.length; i++, this.n++) {
      const x = leg[i]!
      const loud = x >= GAP_LEVEL || x <= -GAP_LEVEL
      if (x === this.value) this.run++
      else {
        if (this.run >= this.least && this.run <= this.most && this.loudBefore)
          this.over = { from: this.n - this.run, frames: this.run, until: this.n + this.edge }
        this.loudBefore = this.n - this.lastLoud <= this.edge
        this.run = 1
        this.value = x
      }
      if (loud) this.lastLoud = this.n
      if (this.over) this.behind(loud)
    }
  }

  private behind(loud: boolean): void {
    const { from, frames, until } = this.over!
    if (loud) this.tell({ kind: 'gap', from, frames })
    if (loud || this.n >= until) this.over = null
  }
}

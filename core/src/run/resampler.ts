// Conversion between sample rates: a low pass in as many phases as there are places between two input frames, designed
// with J. Kaiser's window ("Nonrecursive digital filter design", IEEE ISCAS 1974), run by core/kernels/resample.ts.
import { sin } from '../foundation/elementary'
import { FIRST_FREE, kernelsOn, memoryUpTo } from './kernels'

interface Exports {
  resample(
    x: number,
    out: number,
    count: number,
    table: number,
    taps: number,
    phases: number,
    parts: number,
    part: number,
    whole: number,
    rest: number
  ): void
}

/** Flat to here and closed from 1 on, as shares of the lower rate's half: 20 kHz of 22.05. */
const PASS = 0.907
/** Kaiser's β for 125 dB: 0.1102 (A − 8.7). */
const BETA = 0.1102 * (125 - 8.7)
/** Taps where the input's rate is the lower one: (A − 7.95) / (2.285 Δω), in whole fours of four lanes. */
const TAPS = 192
/** More phases than these are not kept: places between them are mixed, within −130 dB. */
const MOST_PHASES = 4096
const MIXED_PHASES = 2048

const gcd = (a: number, b: number): number => (b ? gcd(b, a % b) : a)

/** The modified Bessel function of order 0, by its series. */
function bessel0(x: number): number {
  let sum = 1,
    term = 1
  for (let k = 1; term > sum * 1e-17; k++) sum += term *= (x / (2 * k)) ** 2
  return sum
}

export interface Design {
  /** Places between two input frames; a step is `whole` frames and `rest` of them. */
  parts: number
  whole: number
  rest: number
  taps: number
  /** Rows of the table, each `taps` long. Mixed when less than `parts`; then there is one more. */
  phases: number
  table: Float32Array
}

const designs = new Map<string, Design>()

/** The filter from one rate to another, in Hz, both whole numbers. */
export function designOf(from: number, to: number): Design {
  const name = `${from} ${to}`
  const known = designs.get(name)
  if (known) return known
  const divisor = gcd(from, to),
    parts = to / divisor,
    step = from / divisor
  const phases = parts <= MOST_PHASES ? parts : MIXED_PHASES
  const slow = Math.max(1, from / to)
  const taps = Math.ceil((TAPS * slow) / 16) * 16
  /** In cycles per input frame: half between where it is flat to and where it is closed. */
  const cutoff = (1 + PASS) / 4 / slow
  const rows = phases === parts ? phases : phases + 1
  const table = new Float32Array(rows * taps)
  const middle = taps / 2 - 1,
    half = taps / 2,
    top = bessel0(BETA)
  const row = new Float64Array(taps)
  for (let p = 0; p < rows; p++) {
    let sum = 0
    for (let j = 0; j < taps; j++) {
      const t = j - middle - p / phases,
        x = 2 * cutoff * t,
        inside = 1 - (t / half) ** 2
      const sinc = x === 0 ? 1 : sin(Math.PI * x) / (Math.PI * x)
      row[j] = inside <= 0 ? 0 : (sinc * bessel0(BETA * Math.sqrt(inside))) / top
      sum += row[j]!
    }
    // Every phase lets 0 Hz through alike.
    for (let j = 0; j < taps; j++) table[p * taps + j] = row[j]! / sum
  }
  const design = { parts, whole: Math.floor(step / parts), rest: step % parts, taps, phases, table }
  designs.set(name, design)
  return design
}

/** Output frames a call. */
const PIECE = 8192

/** Frames that so many have at another rate. */
export const resampledFrames = (frames: number, from: number, to: number): number => Math.round((frames * to) / from)

/** Converts legs × n pieces as they come. What comes out begins at the same moment as what goes in. */
export class Resampler {
  private readonly design: Design
  private readonly exports: Exports
  private readonly memory: Float32Array
  private readonly at: { table: number; out: number; lines: number[] }
  private readonly room: number
  /** Frames in the lines; the first lies `taps/2 − 1` before the one at or before the next output. */
  private held: number
  private part = 0
  private came = 0
  private gone = 0

  /** @param from, to rates in Hz */
  constructor(
    readonly legs: number,
    private readonly from: number,
    private readonly to: number
  ) {
    const d = (this.design = designOf(from, to))
    this.room = d.taps + Math.ceil((PIECE * from) / to) + 16
    const bytes = FIRST_FREE + (d.table.length + PIECE + legs * this.room) * 4 + 64
    const memory = memoryUpTo(bytes)
    this.exports = kernelsOn<Exports>(memory)
    this.memory = new Float32Array(memory.buffer)
    const table = FIRST_FREE,
      out = table + d.table.length * 4,
      lines = Array.from({ length: legs }, (_, i) => out + (PIECE + i * this.room) * 4)
    this.at = { table, out, lines }
    this.memory.set(d.table, table / 4)
    // Silence lies before the first frame.
    this.held = d.taps / 2 - 1
  }

  /** Legs × n, any n. @returns legs × what is known of the output by now */
  feed(audio: readonly Float32Array[]): Float32Array[] {
    this.came += audio[0]!.length
    return this.take(audio, Infinity)
  }

  /** What is still inside. */
  end(): Float32Array[] {
    const most = resampledFrames(this.came, this.from, this.to) - this.gone
    const silence = new Float32Array(this.design.taps + Math.ceil(this.from / this.to) + 1)
    return this.take(
      this.at.lines.map(() => silence),
      most
    )
  }

  private take(audio: readonly Float32Array[], most: number): Float32Array[] {
    const pieces: Float32Array[][] = this.at.lines.map(() => [])
    let made = 0
    for (let at = 0, n = audio[0]!.length; at < n;) {
      const run = Math.min(n - at, this.room - this.held)
      this.at.lines.forEach((line, i) => this.memory.set(audio[i]!.subarray(at, at + run), line / 4 + this.held))
      this.held += run
      at += run
      const count = Math.min(this.ready(), most - made)
      if (count > 0) this.run(count).forEach((leg, i) => pieces[i]!.push(leg))
      made += count
    }
    this.gone += made
    return pieces.map(list => joined(list, made))
  }

  /** Output frames that the lines have all input of. */
  private ready(): number {
    const { parts, whole, rest, taps } = this.design
    const spare = this.held - taps
    if (spare < 0) return 0
    const step = whole * parts + rest
    return Math.min(PIECE, Math.floor((spare * parts + (parts - 1 - this.part)) / step) + 1)
  }

  private run(count: number): Float32Array[] {
    const { parts, whole, rest, taps, phases } = this.design,
      { table, out, lines } = this.at
    const legs = lines.map(line => {
      this.exports.resample(line, out, count, table, taps, phases, parts, this.part, whole, rest)
      return this.memory.slice(out / 4, out / 4 + count)
    })
    const places = this.part + count * rest,
      used = count * whole + Math.floor(places / parts)
    this.part = places % parts
    lines.forEach(line => this.memory.copyWithin(line / 4, line / 4 + used, line / 4 + this.held))
    this.held -= used
    return legs
  }
}

function joined(pieces: readonly Float32Array[], frames: number): Float32Array {
  if (pieces.length === 1) return pieces[0]!
  const out = new Float32Array(frames)
  let at = 0
  for (const p of pieces) {
    out.set(p, at)
    at += p.length
  }
  return out
}

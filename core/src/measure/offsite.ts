// An off-site pass: a file with marks around the programme goes to whoever owns the unit; what comes back is found by
// the marks, put right and laid in place. The marks are the sweeps of a ping, so that each of them measures the way.
//
//   quiet · mark · quiet · programme · tail · quiet · mark · quiet
import { kaiser } from '../foundation/kaiser'
import { PI, gainOf, sin } from '../foundation/elementary'
import { deconvolver, SIZE, sweep, type Sound } from './deconvolve'
import { isTurned } from './polarity'

const MARK_FRAMES = 65536
/** Before and after a mark: a window that holds all of it then holds nothing else. */
const QUIET_FRAMES = SIZE - MARK_FRAMES
const MARK_DBFS = -12
/** Clocks of studios differ by less. */
const MOST_PPM = 500
/** Below this a window holds no mark; a mark in a noise of −60 dBFS stands far above it. */
const LEAST_MARK = 0.5
/** Other sound may look like half a mark; it never looks like a whole one. */
const SURE_MARK = 0.9
/** Seconds within which all bands of a mark arrive. */
const SAME_MOMENT_S = 0.02
/** Marks of one file agree in level. */
const SAME_LEVEL_DB = 3

export interface OffsiteShape {
  rate: number
  /** Of the programme. */
  frames: number
  /** That what rings on has room for. */
  tailFrames: number
}

/** Frames at which things begin in a feed file, and its length. */
export function offsitePlaces({ frames, tailFrames }: OffsiteShape) {
  const first = QUIET_FRAMES,
    programme = first + MARK_FRAMES + QUIET_FRAMES
  const second = programme + frames + tailFrames + QUIET_FRAMES
  return { first, programme, second, length: second + MARK_FRAMES + QUIET_FRAMES }
}

const markOf = ({ rate }: OffsiteShape) => sweep(rate, MARK_FRAMES, gainOf(MARK_DBFS))

/** The part of frames `from` … `from + frames` that lies in `length` frames from `place` on. */
function shared(from: number, frames: number, place: number, length: number) {
  const begin = Math.max(from, place),
    n = Math.min(from + frames, place + length) - begin
  return n > 0 ? { to: begin - from, at: begin - place, n } : null
}

/**
 * Frames of a feed file with its marks, and silence where the programme goes.
 * @returns legs × frames
 */
function marked(shape: OffsiteShape, mark: Float32Array, legs: number, from: number, frames: number): Float32Array[] {
  const out = Array.from({ length: legs }, () => new Float32Array(frames)),
    { first, second } = offsitePlaces(shape)
  for (const place of [first, second]) {
    const part = shared(from, frames, place, MARK_FRAMES)
    if (part) for (const leg of out) leg.set(mark.subarray(part.at, part.at + part.n), part.to)
  }
  return out
}

/**
 * The file that goes out.
 * @param programme legs × frames at `rate`
 * @returns legs × `offsitePlaces().length`
 */
export function offsiteFeed(programme: readonly Float32Array[], shape: OffsiteShape): Float32Array[] {
  const places = offsitePlaces(shape),
    out = marked(shape, markOf(shape), programme.length, 0, places.length)
  programme.forEach((leg, i) => out[i].set(leg.subarray(0, shape.frames), places.programme))
  return out
}

/**
 * Any frames of a file that goes out, so that none of it has to be held whole.
 * @param programme reads legs × frames of what is sent
 * @returns reads legs × frames of the file: the same samples as `offsiteFeed`
 */
export function offsiteReader(
  shape: OffsiteShape,
  legs: number,
  programme: (from: number, frames: number) => Promise<Float32Array[]>
): (from: number, frames: number) => Promise<Float32Array[]> {
  const mark = markOf(shape)
  return async (from, frames) => {
    const out = marked(shape, mark, legs, from, frames)
    const part = shared(from, frames, offsitePlaces(shape).programme, shape.frames)
    if (part) (await programme(part.at, part.n)).forEach((leg, i) => out[i].set(leg, part.to))
    return out
  }
}

export interface OffsiteReturn {
  /** legs × (frames + tailFrames): in place, by the session's clock; polarity and gain put right where sure. */
  audio: Float32Array[]
  /** Frame of the returned file at which the first mark begins. */
  offsetFrames: number
  /** By how much its clock ran faster than ours. */
  ppm: number
  /** Null where what the unit does to the sound leaves no certain answer; then nothing was turned. */
  inverted: boolean | null
  /** Of the way; null where it is not certain; then nothing was changed. */
  gainDb: number | null
  /** 0 … 1, of the weaker mark. */
  confidence: number
}
export interface NotReturned {
  refused: string
}

/**
 * @param returned legs × frames, at the rate of the session (convert it first by what its header says)
 * @param report share 0 … 1
 */
export function offsiteReturn(
  returned: readonly Float32Array[],
  shape: OffsiteShape,
  report?: (share: number) => void
): OffsiteReturn | NotReturned {
  const listen = deconvolver(markOf(shape), shape.rate)
  const places = offsitePlaces(shape)
  const leg = loudest(returned)
  const pair = findMarks(leg, listen, shape, report)
  if ('refused' in pair) return pair
  // A sweep that runs faster arrives earlier by its own length: its place is right once its own clock is ours.
  let { first, second } = pair
  const apart = places.second - places.first
  for (let round = 0; round < 4; round++) {
    const ratio = (second.at - first.at) / apart
    first = placeAgain(leg, listen, first.at, ratio) ?? first
    second = placeAgain(leg, listen, second.at, ratio) ?? second
  }
  const ratio = (second.at - first.at) / apart
  const { inverted, gainDb } = whatTheyAgreeOn(first.sound, second.sound)
  const scale = (inverted ? -1 : 1) * gainOf(-(gainDb ?? 0))
  const start = first.at + (places.programme - places.first) * ratio
  const audio = returned.map(x => readAt(x, start, ratio, shape.frames + shape.tailFrames, scale))
  report?.(1)
  return {
    audio,
    offsetFrames: first.at,
    ppm: (ratio - 1) * 1e6,
    inverted,
    gainDb,
    confidence: Math.min(first.confidence, second.confidence)
  }
}

type Listen = ReturnType<typeof deconvolver>
interface Found {
  at: number
  sound: Sound
  confidence: number
}

const energy = (x: Float32Array) => x.reduce((sum, v) => sum + v * v, 0)
const loudest = (legs: readonly Float32Array[]) => legs.reduce((a, b) => (energy(b) > energy(a) ? b : a))

/** Windows hold a whole mark when it begins in their first half: every place is in exactly one of them. */
function markIn(x: Float32Array, listen: Listen, from: number, rate: number): Found | null {
  const window = new Float32Array(SIZE)
  window.set(x.subarray(Math.max(0, from), Math.max(0, from + SIZE)), Math.max(0, -from))
  const { confidence, sound } = listen(window)
  return sound && confidence >= LEAST_MARK && sound.bandsApart() <= SAME_MOMENT_S * rate
    ? { at: from + sound.delaySamples, sound, confidence }
    : null
}

function findMarks(
  x: Float32Array,
  listen: Listen,
  shape: OffsiteShape,
  report?: (share: number) => void
): { first: Found; second: Found } | NotReturned {
  const places = offsitePlaces(shape),
    apart = places.second - places.first
  const least = apart * (1 - MOST_PPM / 1e6),
    most = apart * (1 + MOST_PPM / 1e6)
  let isOneThere = false
  for (let from = 0; from < x.length; from += SIZE / 2) {
    report?.((0.5 * from) / x.length)
    const first = markIn(x, listen, from, shape.rate)
    if (!first) continue
    isOneThere ||= first.confidence >= SURE_MARK
    const second = markIn(x, listen, Math.round(first.at + apart - SIZE / 4), shape.rate)
    const agrees =
      second &&
      second.at - first.at >= least &&
      second.at - first.at <= most &&
      Math.abs(second.sound.gainDb - first.sound.gainDb) <= SAME_LEVEL_DB
    if (agrees) return { first, second }
  }
  if (!isOneThere)
    return { refused: 'the marks are not in it: it is another file, or what was recorded is not the feed file' }
  return {
    refused:
      x.length < apart
        ? 'it is cut short: one mark is there and the other one is missing'
        : 'one mark is there and the other one is not where it should be: it was cut, or edited between them'
  }
}

/** The place of a mark, measured again with the file read at the session's clock. */
function placeAgain(x: Float32Array, listen: Listen, at: number, ratio: number): Found | null {
  const before = SIZE / 8
  const start = at - before * ratio
  const window = readAt(x, start, ratio, SIZE, 1)
  const { confidence, sound } = listen(window)
  return sound ? { at: start + sound.delaySamples * ratio, sound, confidence } : null
}

/** With harmonics above this, gain depends on level. */
const CLEAN_DB = -20

function whatTheyAgreeOn(a: Sound, b: Sound): Pick<OffsiteReturn, 'inverted' | 'gainDb'> {
  const isClear = a.polarityIsClear && b.polarityIsClear
  const isClean = Math.max(a.distortionDb, b.distortionDb) < CLEAN_DB
  return {
    inverted: isTurned(a) === isTurned(b) ? isTurned(a) : null,
    gainDb: isClean && isClear ? (a.gainDb + b.gainDb) / 2 : null
  }
}

/** Kaiser-windowed sinc in phases that are mixed: within −100 dB up to 0.4 of the rate. */
const TAPS = 64,
  PHASES = 2048,
  BETA = 12
let table: Float32Array | null = null
function sincTable(): Float32Array {
  if (table) return table
  table = new Float32Array((PHASES + 1) * TAPS)
  for (let phase = 0; phase <= PHASES; phase++)
    for (let n = 0; n < TAPS; n++) {
      const x = n - (TAPS / 2 - 1) - phase / PHASES
      table[phase * TAPS + n] = (x === 0 ? 1 : sin(PI * x) / (PI * x)) * kaiser(x / (TAPS / 2), BETA)
    }
  return table
}

/** @returns frames read from `start` on, each `ratio` frames of the file further; silence beyond its ends */
function readAt(x: Float32Array, start: number, ratio: number, frames: number, scale: number): Float32Array {
  const taps = sincTable(),
    out = new Float32Array(frames)
  for (let n = 0; n < frames; n++) {
    const at = start + n * ratio,
      whole = Math.floor(at)
    const phase = (at - whole) * PHASES,
      row = Math.floor(phase),
      mix = phase - row
    const first = whole - (TAPS / 2 - 1)
    if (first < -TAPS || first > x.length) continue
    let low = 0,
      high = 0
    const a = row * TAPS,
      b = a + TAPS
    for (let k = 0; k < TAPS; k++) {
      const v = x[first + k] ?? 0
      low += v * taps[a + k]
      high += v * taps[b + k]
    }
    out[n] = scale * (low + mix * (high - low))
  }
  return out
}

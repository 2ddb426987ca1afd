// What a sweep (Farina 2000) that came back says of its way: an impulse response, and from it the delay with its
// fraction, polarity, gain, response and harmonics.
import { PI, cos, exp, log, log10, sin } from '../foundation/elementary'
import { centresFor } from './centres'
import { fractionFromPhase } from './delay'
import { polarityIsClear } from './polarity'
import { inverseReal, spectrum } from './spectrum'

/** Below this nothing is reported. */
export const LEAST_CONFIDENCE = 0.3
/** Frames of the impulse response: what comes back must lie within so many after the sweep began. */
export const SIZE = 131072
const LOW_HZ = 15

/** Sweep from 15 Hz to 0.46 of the rate with short fades. */
export function sweep(rate: number, frames: number, amplitude: number): Float32Array {
  const high = 0.46 * rate,
    ratio = log(high / LOW_HZ),
    seconds = frames / rate
  const fade = Math.round(rate * 0.004)
  return Float32Array.from({ length: frames }, (_, n) => {
    const phase = ((2 * PI * LOW_HZ * seconds) / ratio) * (exp((n / frames) * ratio) - 1)
    const edge = Math.min(1, n / fade, (frames - n) / fade)
    return amplitude * sin(phase % (2 * PI)) * edge
  })
}

export interface Sound {
  delaySamples: number
  /** Frames between the arrivals of two bands, computed when it is asked for. */
  bandsApart(): number
  inverted: boolean
  /** A step goes clearly farther to the side of the pulse than to the other. */
  polarityIsClear: boolean
  gainDb: number
  /** Energy of the second to fourth harmonics against the direct sound. */
  distortionDb: number
  /** Magnitude at third-octave centres. */
  response: { hz: number; db: number }[]
  /** Impulse response around the first arrival, and the sample at which it starts. */
  impulse: { from: number; samples: number[] }
}

/** Confidence 0 … 1, and the sound where there is one to speak of. */
export interface Heard {
  confidence: number
  sound: Sound | null
}

/**
 * What is sent is transformed once, however often it is listened for.
 * @param sent the sweep, `frames`
 * @returns a measurement of what came from the moment it began, `SIZE` frames
 */
export function deconvolver(sent: Float32Array, rate: number): (back: ArrayLike<number>) => Heard {
  const X = spectrum(sent, SIZE)
  return back => deconvolve(X, sent.length, back, rate)
}

function deconvolve(X: readonly number[], frames: number, back: ArrayLike<number>, rate: number): Heard {
  const Y = spectrum(back, SIZE)
  const bin = (hz: number) => Math.round((hz / rate) * SIZE)
  const H = new Array<number>(2 * SIZE).fill(0)
  const divide = (k: number) => {
    const power = X[2 * k] ** 2 + X[2 * k + 1] ** 2
    H[2 * k] = (Y[2 * k] * X[2 * k] + Y[2 * k + 1] * X[2 * k + 1]) / power
    H[2 * k + 1] = (Y[2 * k + 1] * X[2 * k] - Y[2 * k] * X[2 * k + 1]) / power
  }
  for (let k = bin(LOW_HZ * 1.2); k < bin(0.455 * rate); k++) {
    divide(k)
    H[2 * (SIZE - k)] = H[2 * k]
    H[2 * (SIZE - k) + 1] = -H[2 * k + 1]
  }
  const h = inverseReal(H)
  const energy = (from: number, to: number, of: ArrayLike<number> = h) => {
    let s = 0
    for (let n = from; n < to; n++) s += of[(n + SIZE) % SIZE] ** 2
    return s
  }

  let best = 0
  for (let n = 0; n < SIZE / 2; n++) if (Math.abs(h[n]) > Math.abs(h[best])) best = n
  // The first arrival, not the peak: an echo may be louder than the sound it follows.
  let first = best
  for (let n = 0; n < best; n++)
    if (Math.abs(h[n]) > 0.5 * Math.abs(h[best])) {
      first = n
      break
    }
  for (let n = first; n < Math.min(first + 4, best + 1); n++) if (Math.abs(h[n]) > Math.abs(h[first])) first = n
  const direct = energy(first - 256, first + 2048)
  const rest = (energy(SIZE / 2, (SIZE * 5) / 8) / (SIZE / 8)) * 2304
  const signalToNoise = 10 * log10((direct + 1e-30) / (rest + 1e-30))
  const confidence = Math.max(0, Math.min(1, (signalToNoise - 6) / 34))
  if (confidence < LEAST_CONFIDENCE || direct < 1e-9) return { confidence, sound: null }

  const inverted = h[first] < 0
  // Only the direct sound decides the fraction: a window around it, transformed again.
  const windowed = new Float64Array(SIZE)
  for (let n = -192; n < 512; n++) {
    const shape = n < -128 ? (n + 192) / 64 : n > 384 ? (512 - n) / 128 : 1
    windowed[(first + n + SIZE) % SIZE] = h[(first + n + SIZE) % SIZE] * shape
  }
  const delaySamples = first + fractionFromPhase(spectrum(windowed, SIZE), first, bin(200), bin(0.36 * rate), inverted)

  let inBand = 0
  for (let k = bin(100); k < bin(10000); k++) inBand += H[2 * k] ** 2 + H[2 * k + 1] ** 2
  const gainDb = 10 * log10(inBand / (bin(10000) - bin(100)))
  const octaves = log((0.46 * rate) / LOW_HZ)
  const soft = inverseReal(softEdges(H, rate)),
    softDirect = energy(first - 256, first + 2048, soft)
  const noise = energy(SIZE / 2, (SIZE * 5) / 8, soft) / (SIZE / 8)
  let harmonics = 0
  for (const order of [2, 3, 4]) {
    const at = Math.round(first - (frames * log(order)) / octaves)
    harmonics += Math.max(0, energy(at - 256, at + 768, soft) - noise * 1024)
  }
  const smooth = (hz: number) => {
    let sum = 0,
      count = 0
    for (let k = bin(hz / 1.06); k <= bin(hz * 1.06); k++) {
      sum += H[2 * k] ** 2 + H[2 * k + 1] ** 2
      count++
    }
    return 10 * log10(sum / count + 1e-20)
  }
  const impulse = Array.from({ length: 512 }, (_, n) => h[(first - 64 + n + SIZE) % SIZE])
  const response = centresFor(rate).map(hz => ({ hz, db: smooth(hz) }))
  return {
    confidence,
    sound: {
      delaySamples,
      bandsApart: () => bandsApart(H, rate),
      inverted,
      polarityIsClear: polarityIsClear(impulse, inverted),
      gainDb,
      distortionDb: 10 * log10(harmonics / softDirect + 1e-20),
      response,
      impulse: { from: first - 64, samples: impulse }
    }
  }
}

/**
 * The same spectrum with edges that fall softly. A hard edge rings as 1/n as far as the harmonics lie, 53 dB down: more
 * than those of a clean unit.
 */
function softEdges(H: readonly number[], rate: number): number[] {
  const bin = (hz: number) => (hz / rate) * SIZE
  const [low, high] = [
    [bin(LOW_HZ * 1.2), bin(60)],
    [bin(0.38 * rate), bin(0.455 * rate)]
  ]
  const rise = (k: number, from: number, to: number) =>
    (1 - cos(PI * Math.max(0, Math.min(1, (k - from) / (to - from))))) / 2
  return H.map((v, i) => {
    const k = i >> 1,
      at = Math.min(k, SIZE - k)
    return v * rise(at, low[0], low[1]) * (1 - rise(at, high[0], high[1]))
  })
}

/** Bands whose arrivals are compared, in Hz, and the frames over which the energy of each is gathered. */
const BANDS = [
  [250, 1000],
  [1500, 6000]
] as const
const GATHERED = 256

/**
 * Frames between the loudest moments of two bands. What was no sweep is spread as the sweep is: 0.3 s lie between them,
 * while units and rooms bring all bands within some hundredths.
 */
function bandsApart(H: readonly number[], rate: number): number {
  const [low, high] = BANDS.map(([from, to]) => {
    const band = new Array<number>(2 * SIZE).fill(0)
    for (let k = Math.round((from / rate) * SIZE); k < (to / rate) * SIZE; k++)
      for (const [at, sign] of [
        [k, 1],
        [SIZE - k, -1]
      ]) {
        band[2 * at] = H[2 * k]
        band[2 * at + 1] = sign * H[2 * k + 1]
      }
    const h = inverseReal(band)
    let loudest = 0,
      most = -1
    for (let at = 0; at < SIZE; at += GATHERED) {
      let sum = 0
      for (let n = at; n < at + GATHERED; n++) sum += h[n] ** 2
      if (sum > most) {
        most = sum
        loudest = at
      }
    }
    return loudest
  })
  const apart = Math.abs(low - high)
  return Math.min(apart, SIZE - apart)
}

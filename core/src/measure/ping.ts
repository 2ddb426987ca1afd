// A ping: an exponential sweep (Farina 2000) through a loop, deconvolved to an impulse response. From it the delay
// with its fraction, polarity, gain, response, noise and distortion; or the reason why there is nothing to measure.
import { whyNothing } from '../graph/deadLoop'
import { PI, decibels, exp, exp2, gainOf, log, log10, sin } from '../foundation/elementary'
import { LAYOUTS } from '../session/layouts'
import { PlanBuilder } from '../plan/builder'
import { MemoryMedia } from '../run/memoryMedia'
import { PlanStream, renderWhole } from '../run/stream'
import { fractionFromPhase } from './delay'
import { inverseReal, spectrum } from './spectrum'
import type { Loop, Ping } from '../session/rows'
import { makeRow, settings, type Session } from '../session/session'
import { wiringText } from '../graph/wiringText'
import { Wiring } from '../compile/wiring'

export interface PingResult {
  measured: true
  delaySamples: number
  delayMs: number
  reportedSamples: number
  inverted: boolean
  gainDb: number
  /** RMS of what comes back while nothing is sent. */
  noiseDbfs: number
  /** Energy of the second to fourth harmonics against the direct sound. */
  distortionDb: number
  /** 0 … 1; below LEAST_CONFIDENCE nothing is reported. */
  confidence: number
  /** Magnitude at third-octave centres. */
  response: { hz: number; db: number }[]
  /** Impulse response around the first arrival, and the sample at which it starts. */
  impulse: { from: number; samples: number[] }
}
export interface NotMeasured {
  measured: false
  reason: string
  confidence: number
}

export const LEAST_CONFIDENCE = 0.3
const SIZE = 131072
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

/** @param levelDb level of the sweep in dBFS · @param seed of this measurement's noise */
export async function ping(
  session: Session,
  loop: Loop,
  options: { levelDb?: number; seed?: number } = {}
): Promise<PingResult | NotMeasured> {
  const broken = brokenBefore(session, loop)
  if (broken) return { measured: false, reason: broken, confidence: 0 }
  const rate = settings(session).sampleRate
  const frames = 65536
  const sent = sweep(rate, frames, gainOf(options.levelDb ?? -14))
  const quiet = 16384
  const back = await through(session, loop, sent, quiet, options.seed ?? settings(session).seed + 77)

  let noise = 0
  // The coupling capacitor needs a moment; the second half of the pause is noise alone.
  for (let n = quiet / 2; n < quiet; n++) noise += back[n] ** 2
  const noiseDbfs = decibels(Math.sqrt(noise / (quiet / 2)))

  const X = spectrum(sent, SIZE),
    Y = spectrum(back.subarray(quiet), SIZE)
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
  const energy = (from: number, to: number) => {
    let s = 0
    for (let n = from; n < to; n++) s += h[(n + SIZE) % SIZE] ** 2
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
  if (confidence < LEAST_CONFIDENCE || direct < 1e-9)
    return { measured: false, reason: whyNothing(session, loop), confidence }

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
  let harmonics = 0
  for (const order of [2, 3, 4]) {
    const at = Math.round(first - (frames * log(order)) / octaves)
    harmonics += Math.max(0, energy(at - 256, at + 768) - (rest / 2304) * 1024)
  }
  const port = session.port[loop.outPorts[0]]
  const smooth = (hz: number) => {
    let sum = 0,
      count = 0
    for (let k = bin(hz / 1.06); k <= bin(hz * 1.06); k++) {
      sum += H[2 * k] ** 2 + H[2 * k + 1] ** 2
      count++
    }
    return 10 * log10(sum / count + 1e-20)
  }
  const response = Array.from({ length: 31 }, (_, i) => 1000 * exp2((i - 17) / 3))
    .filter(hz => hz > 25 && hz < 0.44 * rate)
    .map(hz => ({ hz, db: smooth(hz) }))
  return {
    measured: true,
    delaySamples,
    delayMs: (delaySamples / rate) * 1000,
    reportedSamples: session.interface[port.interface].reportedLatencySamples,
    inverted,
    gainDb,
    noiseDbfs,
    distortionDb: 10 * log10(harmonics / direct + 1e-20),
    confidence,
    response,
    impulse: { from: first - 64, samples: Array.from({ length: 512 }, (_, n) => h[(first - 64 + n + SIZE) % SIZE]) }
  }
}

/** What a stored ping keeps of a result. `measuredAt` is the caller's clock. */
export function pingRow(session: Session, loop: Loop, result: PingResult, measuredAt: string): Ping {
  return {
    delaySamples: result.delaySamples,
    inverted: result.inverted,
    gainDb: result.gainDb,
    noiseDbfs: result.noiseDbfs,
    confidence: result.confidence,
    sampleRate: settings(session).sampleRate,
    wiring: wiringText(session, loop),
    measuredAt
  }
}

/** True when the cabling, the rate or the interface is no longer what it was when the loop was pinged. */
export const pingIsStale = (session: Session, loop: Loop) =>
  loop.ping !== null &&
  (loop.ping.sampleRate !== settings(session).sampleRate || loop.ping.wiring !== wiringText(session, loop))

async function through(
  session: Session,
  loop: Loop,
  sent: Float32Array,
  quiet: number,
  seed: number
): Promise<Float32Array> {
  const builder = new PlanBuilder()
  const source = builder.source('clips/ping', LAYOUTS.mono, [1])
  const arrival = [{ signal: source, weighted: [{ leg: source.legs[0], gain: 1 }] }]
  const wiring = new Wiring(session, builder, port => (loop.outPorts.includes(port) ? arrival : []), seed)
  builder.sink('sink/back', wiring.portIn(loop.inPorts[0]))
  const medium = makeRow('medium', {
    id: 'ping',
    name: 'ping',
    legs: 1,
    frames: sent.length,
    sampleRate: settings(session).sampleRate
  })
  const clip = makeRow('clip', { id: 'ping', channel: 'ping', medium: 'ping', startFrame: quiet })
  const bench: Session = { ...session, medium: { ping: medium }, clip: { ping: clip } }
  const plan = {
    ops: builder.ops,
    moves: [],
    firstNote: Infinity,
    noisy: true,
    sources: [{ key: 'clips/ping', channel: 'ping', layout: LAYOUTS.mono }],
    sinks: new Map([['back', { key: 'sink/back', layout: LAYOUTS.mono, latency: 0 }]])
  }
  const stream = new PlanStream(plan, bench, new MemoryMedia().set('ping', [sent]))
  return (await renderWhole(stream, { from: 0, frames: quiet + SIZE })).get('back')![0]
}

/** What can be seen to be wrong before anything is sent. */
function brokenBefore(session: Session, loop: Loop): string | null {
  if (!loop.outPorts.length || !loop.inPorts.length)
    return `“${loop.name}” has no ports: choose where it leaves and where it returns`
  const device = session.interface[session.port[loop.outPorts[0]].interface]
  const rate = settings(session).sampleRate
  if (!device.sampleRates.includes(rate)) return `${device.name} does not run at ${rate} Hz: no lock`
  return null
}

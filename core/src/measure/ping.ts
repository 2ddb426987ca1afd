// A ping: sweeps through a loop, all of it and each of its ways by itself; or the reason why there is nothing to
// measure.
import { whyNothing } from '../graph/deadLoop'
import { decibels, gainOf } from '../foundation/elementary'
import { LAYOUTS } from '../session/layouts'
import { PlanBuilder } from '../plan/builder'
import { MemoryMedia } from '../run/memoryMedia'
import { PlanStream, renderWhole } from '../run/stream'
import { deconvolver, SIZE, sweep, type Sound } from './deconvolve'
import { isTurned } from './polarity'
import type { Loop, Ping, PingSide } from '../session/rows'
import { makeRow, settings, type Session } from '../session/session'
import { wiringText } from '../graph/wiringText'
import { Wiring } from '../compile/wiring'

export interface PingResult extends Sound {
  measured: true
  delayMs: number
  reportedSamples: number
  /** RMS of what comes back while nothing is sent. */
  noiseDbfs: number
  /** 0 … 1; below LEAST_CONFIDENCE nothing is reported. */
  confidence: number
  /** Of the sweep, dBFS. */
  levelDb: number
  /** The return was at full scale: what is said of its sound is that of a clipped one. */
  clipped: boolean
  sides: PingSide[]
  /** What a person should know: ways that are crossed or dead, sides of different polarity. */
  notes: string[]
}
export interface NotMeasured {
  measured: false
  reason: string
  confidence: number
}

export const PING_DBFS = -14
const SWEEP_FRAMES = 65536,
  QUIET_FRAMES = 16384
/** Peak of a return that is taken for clipped. */
const FULL_SCALE = 0.99999

export interface PingOptions {
  /** Of the sweep, dBFS. */
  levelDb?: number
  /** Of this measurement's noise. */
  seed?: number
  /** Sweeps whose mean is taken: noise falls by their root. */
  averages?: number
  /** @param share 0 … 1 */
  report?(share: number): void
}

/** @throws nothing: what cannot be measured is a reason */
export async function ping(
  session: Session,
  loop: Loop,
  { levelDb = PING_DBFS, seed = settings(session).seed + 77, averages = 1, report }: PingOptions = {}
): Promise<PingResult | NotMeasured> {
  const broken = brokenBefore(session, loop)
  if (broken) return { measured: false, reason: broken, confidence: 0 }
  const rate = settings(session).sampleRate
  const sent = sweep(rate, SWEEP_FRAMES, gainOf(levelDb)),
    listen = deconvolver(sent, rate)
  const ways = waysOf(session, loop)
  const steps = averages * (1 + (ways.length > 1 ? ways.length : 0))
  let step = 0
  const hear = async (by: Loop): Promise<Float32Array> => {
    const mean = new Float32Array(QUIET_FRAMES + SIZE)
    for (let n = 0; n < averages; n++) {
      const back = await through(session, by, sent, QUIET_FRAMES, seed + 7919 * n)
      for (let i = 0; i < mean.length; i++) mean[i] += back[i] / averages
      report?.(++step / steps)
    }
    return mean
  }

  const back = await hear(loop)
  const { confidence, sound } = listen(back.subarray(QUIET_FRAMES))
  if (!sound) return { measured: false, reason: whyNothing(session, loop), confidence }
  // The coupling capacitor needs a moment; the second half of the pause is noise alone. A mean of n has 1/√n of it.
  let noise = 0
  for (let n = QUIET_FRAMES / 2; n < QUIET_FRAMES; n++) noise += back[n] ** 2
  const notes: string[] = []
  const sides: PingSide[] = []
  for (const way of ways) {
    const only = way.loop === loop ? sound : listen((await hear(way.loop)).subarray(QUIET_FRAMES)).sound
    sides.push(sideOf(way.name, only))
    if (only) continue
    const crossed = await returnsElsewhere(session, loop, way, sent, listen, seed)
    notes.push(
      crossed ? `${way.from} comes back at ${crossed}: crossed` : `nothing comes back from ${way.from} at ${way.to}`
    )
  }
  const turned = sides.filter(s => s.gainDb !== null && isTurned(s) === true)
  if (turned.length && sides.some(s => s.gainDb !== null && isTurned(s) === false))
    notes.push(`its sides differ in polarity: ${turned.map(s => s.name).join(', ')} turned`)
  return {
    measured: true,
    ...sound,
    delayMs: (sound.delaySamples / rate) * 1000,
    reportedSamples: reportedSamples(session, loop),
    noiseDbfs: decibels(Math.sqrt((noise / (QUIET_FRAMES / 2)) * averages)),
    confidence,
    levelDb,
    clipped: back.some(v => Math.abs(v) >= FULL_SCALE),
    sides,
    notes
  }
}

interface Way {
  name: string
  from: string
  to: string
  loop: Loop
}

/** Each port out by itself; one that feeds two ports in twice. Many into two alternate, as pairs do. */
function waysOf(session: Session, loop: Loop): Way[] {
  const { outPorts, inPorts } = loop
  if (outPorts.length === 1 && inPorts.length === 1) return [wayOf(session, outPorts[0], inPorts[0], loop)]
  return Array.from({ length: Math.max(outPorts.length, inPorts.length) }, (_, i) => {
    const from = outPorts[i % outPorts.length],
      to = inPorts[i % inPorts.length]
    return wayOf(session, from, to, { ...loop, outPorts: [from], inPorts: [to] })
  })
}
function wayOf(session: Session, out: string, back: string, loop: Loop): Way {
  const [from, to] = [session.port[out].name, session.port[back].name]
  return { name: `${from} → ${to}`, from, to, loop }
}

const sideOf = (name: string, sound: Sound | null): PingSide => ({
  name,
  delaySamples: sound?.delaySamples ?? 0,
  inverted: sound?.inverted ?? false,
  polarityIsClear: sound?.polarityIsClear ?? false,
  gainDb: sound?.gainDb ?? null,
  responseDb: sound?.response.map(r => Math.round(r.db * 100) / 100) ?? []
})

/** The port of the return, beside the one it should come back at, where it does. */
async function returnsElsewhere(
  session: Session,
  loop: Loop,
  way: Way,
  sent: Float32Array,
  listen: ReturnType<typeof deconvolver>,
  seed: number
): Promise<string | null> {
  for (const port of loop.inPorts.filter(p => !way.loop.inPorts.includes(p))) {
    const back = await through(session, { ...way.loop, inPorts: [port] }, sent, QUIET_FRAMES, seed)
    if (listen(back.subarray(QUIET_FRAMES)).sound) return session.port[port].name
  }
  return null
}

/** What a stored ping keeps of a result. `measuredAt` is the caller's clock. */
export function pingRow(session: Session, loop: Loop, result: PingResult, measuredAt: string): Ping {
  return {
    delaySamples: result.delaySamples,
    inverted: result.inverted,
    polarityIsClear: result.polarityIsClear,
    gainDb: result.gainDb,
    noiseDbfs: result.noiseDbfs,
    confidence: result.confidence,
    sampleRate: settings(session).sampleRate,
    wiring: wiringText(session, loop),
    measuredAt,
    levelDb: result.levelDb,
    distortionDb: result.distortionDb,
    reportedSamples: result.reportedSamples,
    sides: result.sides
  }
}

/** What the driver of a loop's ports out says, in samples. */
export const reportedSamples = (session: Session, loop: Loop): number => {
  const port = session.port[loop.outPorts[0] ?? '']
  return port ? session.interface[port.interface].reportedLatencySamples : 0
}

/** True when the cabling, the rate or the interface is no longer what it was when the loop was pinged. */
export const pingIsStale = (session: Session, loop: Loop) =>
  loop.ping !== null &&
  (loop.ping.sampleRate !== settings(session).sampleRate ||
    loop.ping.wiring !== wiringText(session, loop) ||
    (loop.ping.reportedSamples ?? reportedSamples(session, loop)) !== reportedSamples(session, loop))

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
  const arrivals = (port: string) => (loop.outPorts.includes(port) ? arrival : [])
  // Players wait while something is measured.
  const wiring = new Wiring(session, builder, arrivals, seed, () => {})
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

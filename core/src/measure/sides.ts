// Several ways in which something can sound, measured side by side in one go: how loud each is, and how far any two are
// apart.
import type { PlanStream, RenderRange } from '../run/stream'
import { pieces } from '../run/stream'
import { LoudnessMeter } from './loudness'
import { NullMeter } from './null'

export interface Sides {
  /** Gated loudness of each. */
  lufs: number[]
  /** What is left of one when another is taken away, in dB of the one; −∞: the same samples. `apartDb[i][j]` */
  apartDb: number[][]
}

/** @param streams plans with the same sink, of the same layout */
export async function measureSides(
  streams: readonly PlanStream[],
  sink: string,
  range: RenderRange,
  sampleRate: number,
  options: { progress?: (share: number) => void; stopped?: () => boolean } = {}
): Promise<Sides> {
  const { layout } = streams[0]!.plan.sinks.get(sink)!
  const meters = streams.map(() => new LoudnessMeter(layout, sampleRate, false))
  const nulls = streams.map((_, i) => streams.slice(0, i).map(() => new NullMeter()))
  const all = streams.map((stream, i) => pieces(stream, sink, range, i === 0 ? options : {}))
  for (;;) {
    const next: Float32Array[][] = []
    for (const one of all) {
      const { value, done } = await one.next()
      if (done) break
      next.push(value as Float32Array[])
    }
    if (next.length < all.length) break
    next.forEach((audio, i) => {
      meters[i]!.feed(audio)
      nulls[i]!.forEach((meter, j) => meter.feed(audio, next[j]!))
    })
  }
  const apart = (i: number, j: number) => {
    if (i === j) return -Infinity
    const { rmsDb, signalDb } = nulls[Math.max(i, j)]![Math.min(i, j)]!.read()
    return rmsDb === -Infinity ? -Infinity : rmsDb - signalDb
  }
  return {
    lufs: meters.map(m => m.read().integratedLufs),
    apartDb: streams.map((_, i) => streams.map((__, j) => apart(i, j)))
  }
}

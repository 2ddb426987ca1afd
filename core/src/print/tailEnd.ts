// How long prints ring on after the last sound: measured, not declared.
import { decibels } from '../foundation/elementary'
import { BLOCK } from '../plan/operations'
import { levelsBegin } from '../run/runIn'
import type { PlanStream } from '../run/stream'

export interface TailWish {
  /** Peak below which it has rung out, in dBFS. */
  untilDb: number
  /** Looked at for no longer, in seconds. */
  mostS: number
}

export interface TailEnd {
  /** Frames after the end. */
  frames: number
  /** Level at which it stays, in dBFS, where it does not ring out; null where it does. */
  staysDb: number | null
}

/** It has to stay quiet for so long; a level that has not fallen over so long does not fall any more. */
const QUIET_S = 0.2
const STILL_S = 4
const STILL_DB = 0.5

/**
 * Runs a plan on past the end of what is played. It begins eight seconds before: what rings by then has settled.
 * @param end frame of source time after which nothing is played
 */
export async function tailEnd(
  stream: PlanStream,
  end: number,
  sampleRate: number,
  { untilDb, mostS }: TailWish,
  stopped: () => boolean = () => false
): Promise<TailEnd> {
  const sinks = [...stream.plan.sinks.values()]
  const latest = Math.max(0, ...sinks.map(s => s.latency))
  stream.start(Math.max(Math.min(stream.firstSound(), end), levelsBegin(end, sampleRate)))
  const from = end + latest,
    last = from + Math.round(mostS * sampleRate)
  const span = Math.round(STILL_S * sampleRate)
  let loudAt = 0,
    loudest = 0,
    before = Infinity,
    spanEnds = from + span
  while (stream.machine.frame < last) {
    await stream.block()
    const at = stream.machine.frame
    if (at <= from) continue
    const top = Math.max(
      ...sinks.flatMap(s => stream.last(s.key).map(leg => leg.reduce((m, v) => Math.max(m, Math.abs(v)), 0)))
    )
    const db = decibels(top)
    loudest = Math.max(loudest, top)
    if (db >= untilDb) loudAt = at - from
    else if (at - from - loudAt >= QUIET_S * sampleRate) return { frames: loudAt, staysDb: null }
    if (at < spanEnds) continue
    const now = decibels(loudest)
    if (before - now < STILL_DB) return { frames: at - from, staysDb: now }
    before = now
    loudest = 0
    spanEnds += span
    if (stopped()) break
  }
  const staysDb = loudest > 0 ? decibels(loudest) : before
  return { frames: Math.min(last - from, Math.max(BLOCK, stream.machine.frame - from)), staysDb }
}

// What is put out for a person: to the ears, and to the pictures of a slot that is looked at.
import { gainOf } from '../foundation/elementary'
import type { PlanBuilder } from '../plan/builder'
import type { Signal } from '../plan/operations'
import { LAYOUTS } from '../session/layouts'
import { folded, placement } from '../session/placement'
import type { Row } from '../session/rows'
import { junction } from './junction'
import type { PlanSink } from './plan'

/** Room for the ring that keeps the ears' latency constant. */
export const EARS_RING = 16384

/** A signal as stereo, exactly so many samples late, with meters. */
export function toEars(
  builder: PlanBuilder,
  { heardAs, heardLevelDb }: Row<'session'>,
  signal: Signal,
  latency: number,
  trimDb: number
): PlanSink {
  const matrix = folded(placement(signal.layout, LAYOUTS.stereo, 0), heardAs)
  const stereo = junction(
    builder,
    'ears',
    [{ signal, matrix, gain: gainOf(heardLevelDb) * gainOf(trimDb) }],
    LAYOUTS.stereo
  )
  const late = {
    ...builder.shift('ears/late', stereo, Math.max(0, latency - stereo.latency), EARS_RING),
    latency: Math.max(latency, stereo.latency)
  }
  builder.meter('meter/ears', late)
  builder.sink('sink/ears', late)
  return { key: 'sink/ears', layout: LAYOUTS.stereo, latency: late.latency }
}

/** What goes into a slot, comes out of it and steers it. */
export function probe(builder: PlanBuilder, into: Map<string, PlanSink>, dry: Signal, wet: Signal, key: Signal): void {
  for (const [name, signal] of [
    ['in', dry],
    ['out', wet],
    ['key', key]
  ] as const) {
    builder.sink(`sink/probe/${name}`, signal)
    into.set(`probe/${name}`, { key: `sink/probe/${name}`, layout: signal.layout, latency: signal.latency })
  }
}

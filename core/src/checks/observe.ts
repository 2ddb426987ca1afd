// What only shows when sound runs: peaks at ports out and at units, over a range.
import { compile } from '../compile/compile'
import { PlanStream, type RenderRange } from '../run/stream'
import type { MediaReader } from '../run/mediaReader'
import { decibels } from '../foundation/elementary'
import { rows, settings, type Session } from '../session/session'

export interface Observed {
  /** Highest level so far: `port/<id>` in dBFS, `unit/<id>` in dBu (a sine of peak 1 is 0). */
  peaksDb: ReadonlyMap<string, number>
}

export const NOTHING_SEEN: Observed = { peaksDb: new Map() }

export async function observe(session: Session, media: MediaReader, range: RenderRange): Promise<Observed> {
  const heard = settings(session).heardChannel
  const channels = rows(session, 'channel').filter(c => !c.parked)
  const taps = channels
    .filter(c => c.id === heard || rows(session, 'slot').some(s => s.channel === c.id && s.loop))
    .map(c => ({ channel: c.id, tap: 'post' as const }))
  const ports = [
    ...new Set(
      rows(session, 'feed')
        .filter(f => f.kind === 'port')
        .flatMap(f => f.ports)
    )
  ]
  const stream = new PlanStream(compile(session, { taps, ports }), session, media)
  const meters = stream.plan.ops
    .filter(op => op.kind === 'meter')
    .map(op => ({ key: op.key.slice('meter/'.length), state: stream.machine.stateOf(op.key)!, legs: op.ins.length }))
  const tops = new Map<string, number>()
  stream.start(Math.min(stream.firstSound(), Math.floor(range.from / 4096) * 4096))
  while (stream.machine.frame < range.from + range.frames) {
    await stream.block()
    for (const m of meters)
      for (let leg = 0; leg < m.legs; leg++) tops.set(m.key, Math.max(tops.get(m.key) ?? 0, m.state[2 * leg] ?? 0))
  }
  return { peaksDb: new Map([...tops].map(([key, top]) => [key, decibels(top)])) }
}

// What only shows when sound runs: peaks at ports out and at units, over a range.
import { compile } from '../compile/compile'
import { watchMeters } from '../run/meters'
import { levelsBegin } from '../run/runIn'
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
  const begin = levelsBegin(range.from, settings(session).sampleRate)
  stream.start(begin)
  const tops = new Map<string, number>()
  for (const { key, peak } of await watchMeters(stream, begin, range.from + range.frames))
    tops.set(key, Math.max(tops.get(key) ?? 0, peak))
  return { peaksDb: new Map([...tops].map(([key, top]) => [key, decibels(top)])) }
}

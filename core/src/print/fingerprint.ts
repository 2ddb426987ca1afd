// The fingerprint of a tap: a hash over everything upstream that can change the sound. Two equal ones, the same samples.
// Kept in parts, one a row, so that a stale print can say what changed. Names, colours, solo and what is heard do not count.
import { phrasesOf } from '../notes/phrases'
import { envelopesOf, movingFields } from '../movement/targets'
import { Network } from '../graph/network'
import { LOOP, PROCESSORS, settingsOf } from '../processors/table'
import { believedDelay } from '../compile/wiring'
import { wiringText } from '../graph/wiringText'
import type { Channel, Tap } from '../session/rows'
import { canonical, shortHash } from '../foundation/hash'
import { byId, printOn, rows, settings, type Session } from '../session/session'

export interface Fingerprint { hash: string, parts: Record<string, string> }

const short = (value: unknown) => shortHash(canonical(value))

export function fingerprint(session: Session, source: string, tap: Tap, extra: { seed: number, from: number, frames: number }): Fingerprint {
  const network = new Network(session)
  const parts: Record<string, string> = { session: short([settings(session).sampleRate, extra]) }
  const seen = new Set<string>()
  const envelopes = envelopesOf(session)
  const moves = (...names: string[]) => names.flatMap(n => envelopes.get(n)?.points ?? [])

  const visitLoop = (id: string) => {
    const loop = session.loop[id]
    if (!loop || parts[`loop ${id}`]) return
    parts[`loop ${id}`] = short([loop.outPorts, loop.inPorts, loop.sendDb, loop.returnDb, loop.inverted, loop.compensated && believedDelay(session, loop), wiringText(session, loop)])
    portFeeds(loop.outPorts)
  }
  const portFeeds = (ports: string[]) => {
    for (const port of ports) for (const f of network.feedsToPort.get(port) ?? []) visitFeed(f.id)
  }
  const visitFeed = (id: string) => {
    const f = session.feed[id]
    if (parts[`feed ${id}`]) return
    parts[`feed ${id}`] = short([f.kind, f.tap, f.levelDb, f.pan ?? (f.from ? session.channel[f.from].pan : 0), f.muted, f.withMute, f.ports,
      f.from && session.channel[f.from].muted, f.from && session.channel[f.from].parked, moves(`feed/${id}/levelDb`, `feed/${id}/pan`), f.pan === null && f.from ? moves(`channel/${f.from}/pan`) : []])
    if (f.from) visit(session.channel[f.from], f.tap)
    if (f.kind === 'input') for (const loop of rows(session, 'loop')) if (loop.inPorts.some(p => f.ports.includes(p))) visitLoop(loop.id)
  }
  const visit = (channel: Channel, at: Tap): void => {
    const key = `${channel.id}@${at}`
    if (seen.has(key)) return
    seen.add(key)
    if (at === 'input') {
      parts[`channel ${channel.id}`] = short([channel.layout, channel.trimDb, channel.flippedLegs, channel.mutedLegs, channel.lowCutHz, channel.highCutHz, channel.parked])
      for (const c of rows(session, 'clip').filter(c => c.channel === channel.id).sort(byId)) {
        parts[`clip ${c.id}`] = short([session.medium[c.medium].sha256 || c.medium, c.startFrame, c.offsetFrames, c.frames, c.gainDb, c.fadeInFrames, c.fadeOutFrames, c.legMap])
      }
      for (const p of phrasesOf(session, channel.id)) parts[`phrase ${p.id}`] = short([p.voice, p.levelDb, p.startBeat, p.lengthBeats, p.repeats, p.notes, settings(session).tempo])
      for (const f of network.feedsTo.get(channel.id) ?? []) visitFeed(f.id)
      const print = printOn(session, channel.id)
      if (print && channel.listen !== 'print') {
        parts[`print ${print.id}`] = short([print.source, print.tap, channel.listen])
        visit(session.channel[print.source], print.tap)
      }
      return
    }
    visit(channel, at === 'post' ? 'pre' : 'input')
    if (at === 'post') parts[`fader ${channel.id}`] = short([channel.levelDb, channel.muted, moves(`channel/${channel.id}/levelDb`)])
    const slots = (network.slots.get(channel.id) ?? []).filter(s => s.afterFader === (at === 'post'))
    for (const [i, s] of slots.entries()) {
      const processor = PROCESSORS[s.processor]
      parts[`slot ${s.id}`] = short([i, s.state, s.processor, processor?.version ?? 0, processor ? settingsOf(processor, s.params) : s.params, session.medium[s.params.response as string]?.sha256 ?? '', s.mix, s.keyLowCutHz, s.keyHighCutHz, (s.params.note ?? 'free') === 'free' ? 0 : settings(session).tempo[0],
        movingFields(s).map(field => moves(`slot/${s.id}/${field}`))])
      if (s.processor === LOOP && s.loop) visitLoop(s.loop)
      for (const f of network.keysTo.get(s.id) ?? []) visitFeed(f.id)
    }
  }
  visit(session.channel[source], tap)
  return { hash: short(Object.entries(parts).sort(([a], [b]) => a < b ? -1 : 1)), parts }
}

/** What differs between a stored fingerprint and now, as row names (“slot s12”, “channel drums”). Empty: still the same. */
export function changedParts(stored: Record<string, string>, now: Record<string, string>): string[] {
  return [...new Set([...Object.keys(stored), ...Object.keys(now)])].filter(k => stored[k] !== now[k]).sort()
}

/** The rows that make a print stale, empty when it is up to date. */
export function staleParts(session: Session, printId: string): string[] {
  const print = session.print[printId]
  if (!session.channel[print.source]) return ['source']
  const now = fingerprint(session, print.source, print.tap, { seed: print.seed, from: print.startFrame, frames: print.frames })
  return changedParts(print.parts, now.parts)
}

/** “slot s12” → “Compressor on Drums”. */
export function partName(session: Session, part: string): string {
  const [table, ...rest] = part.split(' ')
  const id = rest.join(' ')
  switch (table) {
    case 'session': return 'sample rate or range'
    case 'channel': return `input section of ${session.channel[id]?.name ?? id}`
    case 'fader': return `level of ${session.channel[id]?.name ?? id}`
    case 'slot': { const s = session.slot[id]; return s ? `${PROCESSORS[s.processor]?.label ?? s.processor} on ${session.channel[s.channel].name}` : 'a slot that was removed' }
    case 'loop': return `loop ${session.loop[id]?.name ?? id}`
    case 'clip': { const c = session.clip[id]; return c ? `a clip of ${session.channel[c.channel].name}` : 'a clip that was removed' }
    case 'phrase': { const p = session.phrase[id]; return p ? `notes of ${session.channel[p.channel].name}` : 'notes that were removed' }
    case 'feed': { const f = session.feed[id]; return f ? `a ${f.kind} feed${f.from ? ` from ${session.channel[f.from].name}` : ''}` : 'a feed that was removed' }
    default: return part
  }
}

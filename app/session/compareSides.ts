// What can be compared, as edits: each side says what makes it heard and whether it is.
import { monitorPorts } from '@nullet/core/graph/sides'
import { loopReturningAt } from '@nullet/core/rig/believedDelay'
import { unitSettings } from '@nullet/core/rig/unit'
import { UNITS } from '@nullet/core/rig/units'
import { canonical } from '@nullet/core/foundation/hash'
import type { EditMessage } from '@nullet/core/session/editMessage'
import type { InputFeed, Params } from '@nullet/core/session/rows'
import { byId, printOn, rows, takesOf, type Session } from '@nullet/core/session/session'

export interface Side {
  /** What it is called where it is not blind. */
  word: string
  edit: EditMessage
  isHeard(session: Session): boolean
}

/** How a track sounds: which take, print or feed, from which ports, itself or its reference. */
interface Standing {
  take: string | null
  listen: 'print' | 'feed' | 'follow'
  /** Of the input feed by which the rig is heard, where there is one. */
  ports: string[]
  /** Which are muted, of a track that has a reference. */
  mutes: { own: boolean; reference: boolean } | null
}

const several = (label: string, edits: EditMessage[]): EditMessage => ({ verb: 'several', args: { label, edits } })

/** The feed by which a track, or what it was printed from, hears the rig. */
function rigFeed(session: Session, channel: string): InputFeed | undefined {
  const from = printOn(session, channel)?.source ?? channel
  return rows(session, 'feed')
    .filter((f): f is InputFeed => f.kind === 'input' && f.to === from)
    .sort(byId)[0]
}

/** @param feed by which the rig is heard: with another take it is not found any more */
function standingOf(session: Session, channel: string, feed: InputFeed | undefined): Standing {
  const { take, listen, muted, reference } = session.channel[channel]!
  const other = session.channel[reference ?? '']
  return {
    take,
    listen,
    ports: session.feed[feed?.id ?? '']?.ports ?? [],
    mutes: other ? { own: muted, reference: other.muted } : null
  }
}

/** A side that leaves all as it stands but for some of it. */
function sideOf(
  session: Session,
  channel: string,
  feed: InputFeed | undefined,
  word: string,
  change: Partial<Standing>
): Side {
  const wanted = { ...standingOf(session, channel, feed), ...change }
  const { name, reference } = session.channel[channel]!
  const mute = (id: string, muted: boolean) => ({ verb: 'setChannels', args: { ids: [id], fields: { muted } } })
  const edits: EditMessage[] = [
    { verb: 'hearTake', args: { channel, take: wanted.take } },
    { verb: 'setChannels', args: { ids: [channel], fields: { listen: wanted.listen } } },
    ...(feed ? [{ verb: 'setFeeds', args: { ids: [feed.id], fields: { ports: wanted.ports } } }] : []),
    ...(wanted.mutes ? [mute(channel, wanted.mutes.own), mute(reference!, wanted.mutes.reference)] : [])
  ]
  return {
    word,
    edit: several(`Hear ${word} of “${name}”`, edits),
    isHeard: s => !!s.channel[channel] && canonical(standingOf(s, channel, feed)) === canonical(wanted)
  }
}

/** What stands now, to come back to. */
export const asItIs = (session: Session, channel: string): Side =>
  sideOf(session, channel, rigFeed(session, channel), 'as it was', {})

export function trackSides(session: Session, channel: string): Side[] {
  const reference = session.channel[session.channel[channel]!.reference ?? '']
  const source = session.channel[printOn(session, channel)?.source ?? '']
  const feed = rigFeed(session, channel)
  const isLive = source ? !source.parked : feed !== undefined
  const itself = reference ? { mutes: { own: false, reference: true } } : {}
  const side = (word: string, change: Partial<Standing>) =>
    sideOf(session, channel, feed, word, { ...itself, ...change })
  // Only what is measured is as late as the rest.
  const monitor = feed ? monitorPorts(session, feed.ports) : []
  const hasMonitor = monitor.length === feed?.ports.length && monitor.every(p => loopReturningAt(session, p))
  const listened = { listen: 'feed' } as const
  return [
    ...takesOf(session, channel).map(({ id, name }) =>
      side(name, { take: id, ...(isLive ? { listen: 'print' as const } : {}) })
    ),
    ...(isLive ? [side(source ? `${source.name}, live` : 'the rig, live', listened)] : []),
    ...(isLive && hasMonitor ? [side('the unit’s monitors', { ...listened, ports: monitor })] : []),
    ...(reference ? [side(`${reference.name}, the reference`, { mutes: { own: true, reference: false } })] : [])
  ]
}

export function settingSide(session: Session, id: string, word: string, settings: Params): Side {
  const { name, model } = session.unit[id]!
  const all = UNITS[model]!
  const wanted = unitSettings(all, { ...session.unit[id]!.settings, ...settings })
  return {
    word,
    edit: several(`${name}: ${word}`, [{ verb: 'setUnit', args: { id, fields: { settings: wanted } } }]),
    isHeard: s => !!s.unit[id] && canonical(unitSettings(all, s.unit[id].settings)) === canonical(wanted)
  }
}

/** How it stands, what was kept under a name, and what the unit itself offers as presets; each sound once. */
export function presetSides(session: Session, id: string): Side[] {
  const unit = session.unit[id]!,
    model = UNITS[unit.model]!
  const built = model.settings.find(s => s.name === 'preset')?.choices ?? []
  const kept = [
    ...unit.presets.map(p => settingSide(session, id, p.name, p.settings)),
    ...built.map(preset => settingSide(session, id, preset, { preset }))
  ]
  return kept.some(side => side.isHeard(session)) ? kept : [settingSide(session, id, 'as it stands', {}), ...kept]
}

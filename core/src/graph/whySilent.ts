// Why a channel cannot be heard: every cause on its way to what is heard, the one nearest to the channel first.
import { silentRide } from '../movement/targets'
import { phrasesOf } from '../notes/phrases'
import type { EditMessage } from '../session/editMessage'
import { placement } from '../session/placement'
import { LOOP } from '../processors/table'
import { cableFrom, cableTo } from './cables'
import { deadCable, deadPoint } from './deadLoop'
import type { Channel, Feed, Tap } from '../session/rows'
import { rowOf, rows, type Session, settings, takesOf } from '../session/session'
import { faderClosed, feedClosed, inputClosed, type Closed } from './closed'
import { nodeName } from './edges'
import { listening } from './listening'
import { Network } from './network'
import { pathToEars, stagesToEars } from './path'
import { soloGate } from './solo'
import { isElsewhere, rigOfPort } from './room'
import { printInPlaceOf } from './takeOver'

export const CAUSES = [
  'noClip',
  'emptyClip',
  'unfed',
  'feedersClosed',
  'parked',
  'trim',
  'legs',
  'muted',
  'level',
  'ride',
  'loop',
  'unit',
  'nowhere',
  'feedMuted',
  'feedLevel',
  'otherRig',
  'narrowed',
  'solo',
  'printStands',
  'unheard',
  'listening'
] as const
export interface Cause {
  cause: (typeof CAUSES)[number]
  sentence: string
  about: string[]
  fix?: { label: string; edit: EditMessage }
}

const set = (id: string, fields: object): EditMessage => ({ verb: 'setChannels', args: { ids: [id], fields } })
const setFeed = (id: string, fields: object): EditMessage => ({ verb: 'setFeeds', args: { ids: [id], fields } })
/** Below this a medium counts as silence. */
const NOTHING_DB = -120

/** Empty when nothing in the rows keeps it silent. */
export function whySilent(session: Session, id: string): Cause[] {
  const network = new Network(session)
  const heard = settings(session).heardChannel
  const path = pathToEars(network, id)
  const causes: Cause[] = [...source(session, network, rowOf(session, 'channel', id))]
  path.forEach((at, i) => causes.push(...stage(session, network, rowOf(session, 'channel', at), heard, path[i + 1])))
  causes.push(...unitsDead(session, network, id))
  if (heard && path.at(-1) !== heard) {
    const last = rowOf(session, 'channel', path.at(-1) ?? id),
      wanted = rowOf(session, 'channel', heard)
    if (
      last.role === 'main' ||
      (network.feedsFrom.get(last.id) ?? []).some(f => f.kind === 'main' || f.kind === 'port')
    ) {
      causes.push({
        cause: 'unheard',
        sentence: `“${last.name}” does not lead to “${wanted.name}”, which is what is heard.`,
        about: [last.id, heard],
        fix: { label: `Hear “${last.name}”`, edit: { verb: 'setSession', args: { heardChannel: last.id } } }
      })
    }
  }
  if (settings(session).heardLevelDb === null)
    causes.push({
      cause: 'listening',
      sentence: 'The listening level is at −∞.',
      about: [],
      fix: { label: 'Set it to 0 dB', edit: { verb: 'setSession', args: { heardLevelDb: 0 } } }
    })
  return firstOfEach(causes)
}

/** One cause may close several stages of a path: it is told once, where it is met first. */
const firstOfEach = (causes: Cause[]) => causes.filter((c, i) => causes.findIndex(o => o.sentence === c.sentence) === i)

// ── where the sound comes from ──

function source(session: Session, network: Network, channel: Channel): Cause[] {
  const feeds = network.feedsTo.get(channel.id) ?? []
  if (channel.kind === 'bus')
    return feeds.length
      ? closedFeeders(session, network, channel, feeds)
      : [{ cause: 'unfed', sentence: `Nothing feeds “${channel.name}”.`, about: [channel.id] }]
  const clips = network.clips.get(channel.id) ?? []
  if (
    !listening(
      network,
      channel,
      feeds.filter(f => f.kind === 'input' && !feedClosed(network, f))
    ).clips
  )
    return []
  const phrases = phrasesOf(session, channel.id)
  if (phrases.some(p => p.notes.length && p.levelDb !== null)) return []
  if (!clips.length)
    return [
      {
        cause: 'noClip',
        sentence: phrases.length
          ? `The phrases of “${channel.name}” hold no notes that can be heard.`
          : takesOf(session, channel.id).length
            ? `None of the takes of “${channel.name}” is heard.`
            : `“${channel.name}” has no clip.`,
        about: [channel.id]
      }
    ]
  const isSilent = (clip: (typeof clips)[number]) => {
    const { peakDb, sha256 } = rowOf(session, 'medium', clip.medium)
    const unknown = peakDb === null && sha256 === ''
    return clip.gainDb === null || (!unknown && (peakDb ?? -Infinity) < NOTHING_DB)
  }
  if (!clips.every(isSilent)) return []
  const closed = clips.every(c => c.gainDb === null)
  return [
    {
      cause: 'emptyClip',
      sentence: closed
        ? `The clip of “${channel.name}” has a gain of −∞.`
        : `The clip of “${channel.name}” holds nothing but silence.`,
      about: [channel.id]
    }
  ]
}

/** A bus that is fed hears nothing when every one of its feeds is closed at its own end. */
function closedFeeders(session: Session, network: Network, bus: Channel, feeds: Feed[]): Cause[] {
  const states = feeds.map(f => ({
    f,
    why: f.from ? closed(network, rowOf(session, 'channel', f.from), f) : closedInput(network, f)
  }))
  if (states.some(s => s.why === null)) return []
  const names = states.map(
    ({ f, why }) =>
      `“${f.from ? rowOf(session, 'channel', f.from).name : f.ports.map(p => rowOf(session, 'port', p).name).join(', ')}” ${why}`
  )
  const about = [bus.id, ...feeds.flatMap(f => (f.from ? [f.from] : []))]
  const shown = names.length > 3 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', ')
  return [{ cause: 'feedersClosed', sentence: `Nothing arrives at “${bus.name}”: ${shown}.`, about }]
}

/** How a feeder that lets nothing through is told. */
const CLOSED_WORDS: Partial<Record<Closed, string>> = {
  parked: 'is parked',
  trim: 'has its trim at −∞',
  legs: 'has all its legs muted',
  muted: 'is muted',
  level: 'is at −∞',
  feedMuted: 'has a muted feed',
  feedLevel: 'sends at −∞',
  otherRig: 'is plugged in another rig',
  printStands: 'is replaced by its print'
}

const closedInput = (network: Network, feed: Feed): string | null => {
  const why = feedClosed(network, feed)
  return why && (why === 'otherRig' ? 'is in another rig' : 'closed')
}

function closed(network: Network, from: Channel, feed: Feed): string | null {
  const why = feedClosed(network, feed) ?? inputClosed(from) ?? (feed.tap === 'post' ? faderClosed(from) : null)
  return why && (CLOSED_WORDS[why] ?? 'is closed')
}

// ── the stages it passes ──

function stage(
  session: Session,
  network: Network,
  channel: Channel,
  heard: string | null,
  next: string | undefined
): Cause[] {
  const causes: Cause[] = []
  const { id, name } = channel
  const leaving = network.feedsFrom.get(id) ?? []
  const onward =
    id === heard
      ? undefined
      : (leaving.find(f => f.kind === 'main' && f.to === next) ?? leaving.find(f => f.kind === 'port'))
  // What lies behind the tap that leaves is not passed; a mute closes main feeds wherever they leave.
  const tap = onward?.tap ?? 'post',
    faded = tap === 'post'
  const mutes = faded || onward?.kind === 'main' || onward?.withMute
  if (channel.parked)
    causes.push({
      cause: 'parked',
      sentence: `“${name}” is parked.`,
      about: [id],
      fix: { label: 'Bring it back', edit: set(id, { parked: false }) }
    })
  if (channel.trimDb === null)
    causes.push({
      cause: 'trim',
      sentence: `The trim of “${name}” is at −∞.`,
      about: [id],
      fix: { label: 'Set it to 0 dB', edit: set(id, { trimDb: 0 }) }
    })
  if (channel.mutedLegs.length >= channel.layout.length)
    causes.push({
      cause: 'legs',
      sentence: `All legs of “${name}” are muted.`,
      about: [id],
      fix: { label: 'Open them', edit: set(id, { mutedLegs: [] }) }
    })
  causes.push(...deadLoops(session, network, channel, tap))
  if (mutes && channel.muted)
    causes.push({
      cause: 'muted',
      sentence: `“${name}” is muted.`,
      about: [id],
      fix: { label: 'Open it', edit: set(id, { muted: false }) }
    })
  if (faded && channel.levelDb === null)
    causes.push({
      cause: 'level',
      sentence: `The level of “${name}” is at −∞.`,
      about: [id],
      fix: { label: 'Set it to 0 dB', edit: set(id, { levelDb: 0 }) }
    })
  if (faded) causes.push(...rideCauses(session, 'channel', id, `“${name}”`, id))
  if (id === heard) return causes
  if (!onward) {
    if (channel.role !== 'main' && !leaving.some(f => f.kind === 'main'))
      causes.push({ cause: 'nowhere', sentence: `“${name}” has no main feed: it leads nowhere.`, about: [id] })
    return causes
  }
  return [...causes, ...feedCauses(session, network, channel, onward)]
}

/** A level that never rises from −∞ along its ride. */
function rideCauses(session: Session, owner: 'channel' | 'feed', row: string, name: string, about: string): Cause[] {
  const ride = silentRide(session, owner, row)
  return ride
    ? [
        {
          cause: 'ride',
          sentence: `The level ride of ${name} stays at −∞ from beginning to end.`,
          about: [about],
          fix: { label: 'Remove the ride', edit: { verb: 'removeEnvelopes', args: { ids: [ride.id] } } }
        }
      ]
    : []
}

function feedCauses(session: Session, network: Network, { id, name, layout }: Channel, feed: Feed): Cause[] {
  const causes: Cause[] = []
  const to = feed.to ? session.channel[feed.to] : null
  const goal = to ? `“${to.name}”` : feed.ports.map(p => rowOf(session, 'port', p).name).join(', ')
  if (feed.muted)
    causes.push({
      cause: 'feedMuted',
      sentence: `The feed from “${name}” to ${goal} is muted.`,
      about: [id],
      fix: { label: 'Open it', edit: setFeed(feed.id, { muted: false }) }
    })
  if (feed.levelDb === null)
    causes.push({
      cause: 'feedLevel',
      sentence: `The feed from “${name}” to ${goal} is at −∞.`,
      about: [id],
      fix: { label: 'Set it to 0 dB', edit: setFeed(feed.id, { levelDb: 0 }) }
    })
  if (isElsewhere(session, feed.ports)) {
    const rig = feed.ports.map(p => rigOfPort(session, p))[0]
    causes.push({
      cause: 'otherRig',
      sentence: `“${name}” goes to ${goal}, which is in “${session.rig[rig ?? '']?.name}”; this session works in another rig.`,
      about: [id],
      ...(rig ? { fix: { label: 'Work in that rig', edit: { verb: 'setSession', args: { rig } } } } : {})
    })
  }
  causes.push(...rideCauses(session, 'feed', feed.id, `the feed from “${name}” to ${goal}`, id))
  if (
    to &&
    placement(layout, to.layout, feed.pan ?? rowOf(session, 'channel', id).pan).every(row => row.every(g => g === 0))
  ) {
    causes.push({
      cause: 'narrowed',
      sentence: `No leg of “${name}” (${layout.join(', ')}) has a place in ${goal} (${to.layout.join(', ')}).`,
      about: [id, to.id],
      fix: {
        label: `Give ${goal} the layout of “${name}”`,
        edit: { verb: 'setLayout', args: { ids: [to.id], layout, dropping: true } }
      }
    })
  }
  const gate = soloGate(network)
  if (gate && !gate(feed)) {
    const soloed = rows(session, 'channel').filter(c => c.soloed)
    causes.push({
      cause: 'solo',
      sentence: `Something else is soloed: ${soloed.map(c => `“${c.name}”`).join(', ')}.`,
      about: [id, ...soloed.map(c => c.id)],
      fix: {
        label: 'End every solo',
        edit: { verb: 'setChannels', args: { ids: soloed.map(c => c.id), fields: { soloed: false } } }
      }
    })
  }
  const print = printInPlaceOf(network, feed)
  if (print)
    causes.push({
      cause: 'printStands',
      sentence: `“${rowOf(session, 'channel', print.channel).name}” is printed from “${name}” and stands in its place.`,
      about: [id, print.channel]
    })
  return causes
}

/** Loops on the way, all wet, from which nothing comes back. */
function deadLoops(session: Session, network: Network, channel: Channel, tap: Tap): Cause[] {
  const passed = (network.slots.get(channel.id) ?? []).filter(s => tap === 'post' || (tap === 'pre' && !s.afterFader))
  return passed
    .filter(s => s.processor === LOOP && s.loop && s.state === 'on' && s.mix === 1)
    .flatMap((slot): Cause[] => {
      const loop = rowOf(session, 'loop', slot.loop ?? ''),
        about = [channel.id, loop.id]
      const bypass = {
        label: 'Bypass the slot',
        edit: { verb: 'setSlot', args: { id: slot.id, fields: { state: 'bypassed' } } }
      }
      if (loop.sendDb === null || loop.returnDb === null)
        return [
          {
            cause: 'loop',
            sentence: `Loop “${loop.name}” on “${channel.name}” has its ${loop.sendDb === null ? 'send' : 'return'} at −∞.`,
            about,
            fix: bypass
          }
        ]
      const dead = deadPoint(session, loop)
      return dead
        ? [{ cause: 'loop', sentence: `Loop “${loop.name}” on “${channel.name}”: ${dead.reason}.`, about, fix: bypass }]
        : []
    })
}

/** What is dead between two channels, where the way leaves by a port and comes back by another. */
function unitsDead(session: Session, network: Network, id: string): Cause[] {
  const nodes = stagesToEars(network, id).flatMap(s =>
    s.kind === 'port' || s.kind === 'unit' ? [nodeName(s.kind, s.id)] : []
  )
  return nodes.flatMap((node, i): Cause[] => {
    const cable = rows(session, 'cable').find(c => cableFrom(c) === node && cableTo(c) === nodes[i + 1])
    const dead = cable && deadCable(session, cable)
    if (!dead) return []
    return [{ cause: 'unit', sentence: `${dead.reason}.`, about: [id, ...dead.about], fix: dead.fixes[0] }]
  })
}

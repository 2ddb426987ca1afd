// Why a channel cannot be heard: every cause on its way to what is heard, the one nearest to the channel first.
import type { EditMessage } from '../edits/apply'
import type { Channel } from '../session/rows'
import { printOn, rows, settings, type Session } from '../session/session'
import { Network } from './network'
import { pathToEars } from './path'
import { soloGate } from './solo'

export interface Cause { sentence: string, about: string[], fix?: { label: string, edit: EditMessage } }

const set = (id: string, fields: object): EditMessage => ({ verb: 'setChannels', args: { ids: [id], fields } })

/** Empty when nothing in the rows keeps it silent: then what it plays is silent itself. */
export function whySilent(session: Session, id: string): Cause[] {
  const network = new Network(session)
  const heard = settings(session).heardChannel
  const path = pathToEars(network, id)
  const causes: Cause[] = [...source(session, network, session.channel[id])]
  for (const at of path) causes.push(...stage(session, network, session.channel[at], heard, path))
  if (heard && path.at(-1) !== heard) {
    const last = session.channel[path.at(-1)!], wanted = session.channel[heard]
    if (wanted && (network.feedsFrom.get(last.id) ?? []).some(f => f.kind === 'main')) {
      causes.push({ sentence: `“${last.name}” leads elsewhere than to “${wanted.name}”, which is what is heard.`, about: [last.id, heard], fix: { label: `Hear “${last.name}”`, edit: { verb: 'setSession', args: { heardChannel: last.id } } } })
    }
  }
  if (settings(session).heardLevelDb === null) causes.push({ sentence: 'The listening level is at −∞.', about: [], fix: { label: 'Set it to 0 dB', edit: { verb: 'setSession', args: { heardLevelDb: 0 } } } })
  return firstOfEach(causes)
}

/** One cause may close several stages of a path: it is told once, where it is met first. */
const firstOfEach = (causes: Cause[]) => causes.filter((c, i) => causes.findIndex(o => o.sentence === c.sentence) === i)

function source(session: Session, network: Network, channel: Channel): Cause[] {
  const feeds = network.feedsTo.get(channel.id) ?? []
  if (channel.kind === 'bus') return feeds.length ? [] : [{ sentence: `Nothing feeds “${channel.name}”.`, about: [channel.id] }]
  const hasClips = rows(session, 'clip').some(c => c.channel === channel.id)
  const fed = channel.listen !== 'print' && (printOn(session, channel.id) !== undefined || feeds.some(f => f.kind === 'input'))
  return hasClips || fed ? [] : [{ sentence: `“${channel.name}” has no clip.`, about: [channel.id] }]
}

function stage(session: Session, network: Network, channel: Channel, heard: string | null, path: string[]): Cause[] {
  const causes: Cause[] = []
  const { id, name } = channel
  if (channel.parked) causes.push({ sentence: `“${name}” is parked.`, about: [id], fix: { label: 'Bring it back', edit: set(id, { parked: false }) } })
  if (channel.trimDb === null) causes.push({ sentence: `The trim of “${name}” is at −∞.`, about: [id], fix: { label: 'Set it to 0 dB', edit: set(id, { trimDb: 0 }) } })
  if (channel.mutedLegs.length >= channel.layout.length) causes.push({ sentence: `All legs of “${name}” are muted.`, about: [id], fix: { label: 'Open them', edit: set(id, { mutedLegs: [] }) } })
  if (channel.muted) causes.push({ sentence: `“${name}” is muted.`, about: [id], fix: { label: 'Open it', edit: set(id, { muted: false }) } })
  if (channel.levelDb === null) causes.push({ sentence: `The level of “${name}” is at −∞.`, about: [id], fix: { label: 'Set it to 0 dB', edit: set(id, { levelDb: 0 }) } })
  if (id === heard) return causes
  const main = (network.feedsFrom.get(id) ?? []).filter(f => f.kind === 'main')
  const onward = main.find(f => path.includes(f.to!)) ?? main[0]
  if (!onward) {
    causes.push({ sentence: `“${name}” has no main feed: it leads nowhere.`, about: [id] })
    return causes
  }
  if (onward.muted) causes.push({ sentence: `The feed from “${name}” to “${session.channel[onward.to!].name}” is muted.`, about: [id], fix: { label: 'Open it', edit: { verb: 'setFeeds', args: { ids: [onward.id], fields: { muted: false } } } } })
  if (onward.levelDb === null) causes.push({ sentence: `The feed from “${name}” to “${session.channel[onward.to!].name}” is at −∞.`, about: [id], fix: { label: 'Set it to 0 dB', edit: { verb: 'setFeeds', args: { ids: [onward.id], fields: { levelDb: 0 } } } } })
  const gate = soloGate(network)
  if (gate && !gate(onward)) {
    const soloed = rows(session, 'channel').filter(c => c.soloed)
    causes.push({ sentence: `Something else is soloed: ${soloed.map(c => `“${c.name}”`).join(', ')}.`, about: [id, ...soloed.map(c => c.id)], fix: { label: 'Clear every solo', edit: { verb: 'setChannels', args: { ids: soloed.map(c => c.id), fields: { soloed: false } } } } })
  }
  const print = rows(session, 'print').find(p => p.takesOver && p.source === id && !session.channel[p.channel]?.parked)
  if (print) causes.push({ sentence: `“${session.channel[print.channel].name}” is printed from “${name}” and stands in its place.`, about: [id, print.channel] })
  return causes
}

// A feed has the ends of its kind: main feeds and sends from a channel to a bus, key feeds from a channel to a slot
// that listens to keys, port feeds from a channel to ports out, input feeds from ports in to a channel.
import { PROCESSORS, slotLabel } from '../processors/table'
import type { AudioFeed, Channel, Feed } from '../session/rows'
import { rowOf, rows, type Session } from '../session/session'
import { shortHash } from '../foundation/hash'
import { capital, feedWords } from './words'
import { defineRule, type Breach } from './rule'

type End = 'from' | 'to' | 'slot' | 'ports'
const ENDS: Record<Feed['kind'], readonly End[]> = {
  main: ['from', 'to'],
  send: ['from', 'to'],
  key: ['from', 'slot'],
  port: ['from', 'ports'],
  input: ['to', 'ports']
}
const ALL_ENDS: readonly End[] = ['from', 'to', 'slot', 'ports']
const END_WORDS: Record<End, string> = {
  from: 'a source',
  to: 'a destination',
  slot: 'a slot that it steers',
  ports: 'ports'
}

const has = (feed: Feed, end: End) => (end === 'ports' ? feed.ports.length > 0 : feed[end] !== null)

/** What is wrong with the ends of a feed, or null. */
function wrongEnds(session: Session, feed: Feed): Breach | null {
  const say = (fault: string, about: string[], kind: Breach['kind'] = 'badArguments') => ({
    kind,
    about: [feed.id, ...about],
    message: `${capital(feedWords(session, feed))} ${fault}`
  })
  for (const end of ALL_ENDS) {
    const wanted = ENDS[feed.kind].includes(end)
    if (wanted !== has(feed, end))
      return say(
        wanted ? `lacks ${END_WORDS[end]}` : `has ${END_WORDS[end]}, which a ${feed.kind} feed cannot have`,
        []
      )
  }
  if (new Set(feed.ports).size < feed.ports.length) return say('names a port twice', feed.ports)
  const wants = feed.kind === 'port' ? 'out' : 'in'
  const wrong = feed.ports.find(p => session.port[p] && session.port[p].direction !== wants)
  if (wrong) return say(`names “${rowOf(session, 'port', wrong).name}”, which is not a port ${wants}`, [wrong])
  const to = session.channel[feed.to ?? '']
  if (to?.kind === 'track' && feed.kind !== 'input') {
    return say(`ends at a track. “${to.name}” plays what lies on it: feed a bus instead`, [to.id])
  }
  const slot = session.slot[feed.slot ?? '']
  if (slot && PROCESSORS[slot.processor]?.keyed === false)
    return say(`steers ${slotLabel(slot.processor)}, which has no key input`, [slot.id])
  return null
}

export const feeds = defineRule({
  says: 'a feed has the ends of its kind',
  depends: {
    feed: ['kind', 'from', 'to', 'slot', 'ports'],
    channel: ['kind'],
    slot: ['processor'],
    port: ['direction']
  },
  *find({ session }) {
    for (const feed of rows(session, 'feed')) {
      const breach = wrongEnds(session, feed)
      if (breach) yield breach
    }
  },
  mend(session) {
    const notes: string[] = []
    for (const feed of rows(session, 'feed')) {
      const breach = wrongEnds(session, feed)
      if (!breach) continue
      const to = session.channel[feed.to ?? '']
      if (to?.kind === 'track' && (feed.kind === 'main' || feed.kind === 'send') && feed.from)
        notes.push(throughBus(session, feed, to))
      else {
        delete session.feed[feed.id]
        notes.push(`${breach.message}; it was removed`)
      }
    }
    return notes
  }
})

/** A feed into a track goes into a bus before it, which goes where the track goes. */
function throughBus(session: Session, feed: AudioFeed, track: Channel): string {
  const id = `before-${shortHash(track.id)}`
  if (!session.channel[id]) {
    session.channel[id] = {
      ...track,
      id,
      name: `${track.name} (fed)`.slice(0, 300),
      kind: 'bus',
      role: 'submix',
      listen: 'print',
      ready: false,
      soloed: false
    }
    for (const onward of rows(session, 'feed').filter(f => f.kind === 'main')) {
      if (onward.from !== track.id) continue
      const copy = `${id}/${shortHash(onward.id)}`
      session.feed[copy] = { ...onward, id: copy, from: id }
    }
  }
  session.feed[feed.id] = { ...feed, to: id }
  return `${capital(feedWords(session, { ...feed, to: track.id }))} ended at a track and goes to the new bus “${session.channel[id].name}” now`
}

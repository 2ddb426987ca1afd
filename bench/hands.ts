// Hands that move while a session plays: one fader, a group of forty, an equaliser that is dragged, each thirty times a
// second, and slots that come and go. What share of real time the engine takes, and its longest block; a block of 128
// frames lasts 2.67 ms. Planning is another thread's work and told apart.
import type { MediaReader } from '@nullet/core/run/mediaReader'
import { rows, withChanges, type RowChange, type Session } from '@nullet/core/session/session'
import { Near } from '../app/audio/near'
import type { Update } from '../app/audio/planning'
import { headline } from './headline'

const RATE = 48000,
  BLOCK = 128,
  SECONDS = 5,
  A_SECOND = 30,
  TRACKS = [28, 144, 288]

type Hand = (session: Session, turn: number) => RowChange[]
const levels =
  (count: number): Hand =>
  (session, turn) =>
    rows(session, 'channel')
      .filter(c => c.kind === 'track')
      .slice(0, count)
      .map(before => ({
        table: 'channel',
        id: before.id,
        before,
        after: { ...before, levelDb: -12 - (turn % 40) / 8 }
      }))
const HANDS: Record<string, Hand | null> = {
  'hands off': null,
  'one fader': levels(1),
  'a group of forty': levels(40),
  'an equaliser dragged': (session, turn) => {
    const before = rows(session, 'slot').find(s => s.processor === 'equaliser')!
    const params = { ...before.params, db2: (turn % 24) / 2 - 6, hz2: 400 + 20 * (turn % 60) }
    return [{ table: 'slot', id: before.id, before, after: { ...before, params } }]
  },
  'slots that come and go': (session, turn) => {
    const slots = rows(session, 'slot').filter(s => s.processor === 'compressor')
    const before = slots[turn % slots.length]!
    return [{ table: 'slot', id: before.id, before, after: { ...before, state: before.state === 'on' ? 'off' : 'on' } }]
  }
}

interface Played {
  /** Of real time. */
  share: number
  longestMs: number
  /** The longest that another thread took to plan. */
  plannedMs: number
}
async function played(tracks: number, media: MediaReader, hand: Hand | null): Promise<Played> {
  let session = headline(tracks, (SECONDS + 2) * RATE)
  const near = new Near(session, media),
    { heard } = near
  await heard.runTo(RATE, () => false)
  const every = RATE / A_SECOND
  let next = 0,
    turn = 0,
    total = 0,
    longest = 0,
    planned = 0
  for (let frame = 0; frame < SECONDS * RATE; frame += BLOCK) {
    let update: Update | null = null
    if (hand && frame >= next) {
      const changes = hand(session, ++turn),
        asked = performance.now()
      session = withChanges(session, changes)
      update = near.plan(session, changes)
      planned = Math.max(planned, performance.now() - asked)
      next += every
    }
    const begun = performance.now()
    if (update) heard.take(update, session)
    await heard.block()
    const took = performance.now() - begun
    total += took
    longest = Math.max(longest, took)
  }
  return { share: total / (SECONDS * 1000), longestMs: longest, plannedMs: planned }
}

export async function hands(media: MediaReader, say: (what: string, figure: string) => void): Promise<void> {
  for (const tracks of TRACKS)
    for (const [what, hand] of Object.entries(HANDS)) {
      const { share, longestMs, plannedMs } = await played(tracks, media, hand)
      say(
        `${tracks} tracks, ${what}: share of real time, longest block, longest planning in ms`,
        `${share.toFixed(2)}, ${longestMs.toFixed(1)}, ${plannedMs.toFixed(1)}`
      )
    }
}

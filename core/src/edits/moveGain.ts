// Gain from channels into the bus they feed, or back, so that what leaves the bus stays the same. Everything that hears
// the level on the way follows: thresholds, sends, keys, loops.
import { z } from 'zod'
import { peekRows } from '../session/draft'
import { PROCESSORS, LOOP, settingsOf, slotLabel } from '../processors/table'
import { Refusal } from '../foundation/refusal'
import { FeedRow, type Channel, type Feed, type Slot } from '../session/rows'
import { isHeardPrint, rowOf, type Session } from '../session/session'
import { defineEdit, need } from './edit'

/** Moves `byDb` out of what feeds the bus and into its level or trim; a negative value moves it back. */
export const moveGain = defineEdit({
  verb: 'moveGain',
  args: z.object({
    bus: z.string(),
    byDb: z.number().min(-60).max(60),
    into: z.enum(['level', 'trim']).default('level')
  }),
  label: (s, { bus, byDb }) =>
    `Move ${Math.abs(byDb).toFixed(1)} dB ${byDb > 0 ? 'into' : 'out of'} “${s.channel[bus]?.name}”`,
  apply(draft, { bus: id, byDb, into }) {
    const bus = need(draft, 'channel', id)
    const field = into === 'level' ? 'levelDb' : 'trimDb'
    if (bus[field] === null)
      throw new Refusal('badArguments', `The ${into} of “${bus.name}” is at −∞: there is nothing to move`, [id])
    const arriving = peekRows(draft, 'feed').filter(f => f.to === id)
    if (!arriving.length)
      throw new Refusal('badArguments', `Nothing feeds “${bus.name}”, so no gain can be moved into it`, [id])
    const members = new Set<string>()
    for (const feed of arriving) {
      const from = feed.from ? draft.channel[feed.from] : null
      if (from && feed.kind === 'main' && feed.tap === 'post' && from.levelDb !== null) members.add(from.id)
      else shiftFeed(draft, feed, -byDb)
    }
    for (const member of members) lower(draft, rowOf(draft, 'channel', member), -byDb, id)
    bus[field] = within(bus, bus[field]! + byDb, into)
    // With the trim everything inside the bus is as it was; with the fader what lies before it has moved.
    if (into === 'level')
      inside(
        draft,
        bus,
        -byDb,
        slot => !slot.afterFader,
        feed => feed.tap !== 'post'
      )
  }
})

/** A fader moved by so many dB, and what comes after it. The main feed into the bus is what is meant to move. */
function lower(draft: Session, channel: Channel, byDb: number, bus: string): void {
  const listener = peekRows(draft, 'print').find(
    p =>
      p.source === channel.id &&
      p.tap === 'post' &&
      isHeardPrint(draft, p) &&
      rowOf(draft, 'channel', p.channel).listen !== 'print'
  )
  if (listener) {
    const name = rowOf(draft, 'channel', listener.channel).name
    throw new Refusal(
      'badArguments',
      `“${name}” listens to the feed of “${channel.name}” and would change. Let it listen to its print first.`,
      [listener.channel, channel.id]
    )
  }
  channel.levelDb = within(channel, channel.levelDb! + byDb, 'level')
  inside(
    draft,
    channel,
    byDb,
    slot => slot.afterFader,
    feed => feed.tap === 'post' && !(feed.kind === 'main' && feed.to === bus)
  )
}

/** What hears a level that has moved: own thresholds and loops follow, feeds make up for it. */
function inside(
  draft: Session,
  channel: Channel,
  byDb: number,
  slots: (s: Slot) => boolean,
  feeds: (f: Feed) => boolean
): void {
  for (const slot of peekRows(draft, 'slot').filter(s => s.channel === channel.id && slots(s)))
    follow(draft, channel, slot, byDb)
  for (const feed of peekRows(draft, 'feed').filter(f => f.from === channel.id && feeds(f)))
    shiftFeed(draft, feed, -byDb)
}

function follow(draft: Session, channel: Channel, slot: Slot, byDb: number): void {
  if (slot.processor === LOOP) {
    const loop = draft.loop[slot.loop ?? '']
    if (!loop) return
    if (loop.sendDb !== null) loop.sendDb -= byDb
    if (loop.returnDb !== null) loop.returnDb += byDb
    return
  }
  const processor = PROCESSORS[slot.processor]
  if (!processor) return
  // A key from elsewhere is not moved by this channel's own level.
  if (peekRows(draft, 'feed').some(f => f.slot === slot.id)) return
  const settings = settingsOf(processor, slot.params)
  let params = slot.params
  for (const { name, by } of processor.followsLevel ?? []) {
    const p = processor.parameters.find(p => p.name === name)!
    const value = (settings[name] as number) + by * byDb
    if (value < p.min! || value > p.max!) {
      throw new Refusal(
        'badArguments',
        `${p.label} of ${slotLabel(slot.processor).toLowerCase()} on “${channel.name}” would have to be ${value.toFixed(1)} dB; it takes ${p.min} to ${p.max}`,
        [slot.id, channel.id]
      )
    }
    params = { ...params, [name]: value }
  }
  rowOf(draft, 'slot', slot.id).params = params
}

function shiftFeed(draft: Session, feed: Feed, byDb: number): void {
  if (feed.levelDb !== null) draft.feed[feed.id] = FeedRow.parse({ ...feed, levelDb: feed.levelDb + byDb })
}

function within(channel: Channel, db: number, what: string): number {
  if (db < -150 || db > 48)
    throw new Refusal(
      'badArguments',
      `The ${what} of “${channel.name}” would have to be ${db.toFixed(1)} dB; it takes −150 to +48`,
      [channel.id]
    )
  return db
}

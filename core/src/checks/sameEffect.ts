import { PROCESSORS, settingsOf, slotLabel } from '../processors/table'
import type { EditMessage } from '../session/editMessage'
import { log10 } from '../foundation/elementary'
import { STEREO, widest } from '../session/layouts'
import { canonical } from '../foundation/hash'
import type { Slot } from '../session/rows'
import { orderAfter } from '../session/order'
import { byOrder, rowOf, rows, type Session } from '../session/session'
import type { Check } from './check'

const FROM = 3
/** Effects that are meant to be shared: those that make space. */
const SHARED = ['reverb', 'delay']

/** The same effect with the same settings in many slots: one return would do. */
export const sameEffect: Check = {
  id: 'sameEffect',
  find(session) {
    const groups = new Map<string, Slot[]>()
    for (const s of rows(session, 'slot').sort(byOrder)) {
      const processor = PROCESSORS[s.processor]
      if (
        !processor ||
        !SHARED.includes(s.processor) ||
        s.state !== 'on' ||
        rowOf(session, 'channel', s.channel).role === 'return'
      )
        continue
      const key = `${s.processor} ${canonical(settingsOf(processor, s.params))}`
      groups.set(key, [...(groups.get(key) ?? []), s])
    }
    return [...groups.values()]
      .filter(g => g.length >= FROM)
      .map(g => {
        const label = effectLabel(g)
        const names = g.map(s => rowOf(session, 'channel', s.channel).name)
        return {
          sentence: `${g.length} channels have the same ${label.toLowerCase()} with the same settings: ${names.slice(0, 4).join(', ')}${names.length > 4 ? ' …' : ''}.`,
          about: g.map(s => s.channel),
          consequence: `It is computed ${g.length} times, and has to be changed in ${g.length} places.`,
          fixes: [{ label: 'Make it one return', edit: oneReturn(session, g) }]
        }
      })
  }
}

const effectLabel = ([slot]: Slot[]) => slotLabel(slot?.processor ?? '')

/**
 * One return with the effect, and a send from every channel in place of its slot. Where the slot was the last before
 * the fader, what goes on by main feeds stays the same: wet m becomes a send of m, dry 1 − m the level of the main
 * feeds.
 */
export function oneReturn(session: Session, slots: Slot[]): EditMessage {
  const [first] = slots
  if (!first) throw new Error('There is no slot to make a return of')
  const label = effectLabel(slots)
  const id = `shared-${first.id}`
  const main = rows(session, 'channel').find(c => c.role === 'main')?.id ?? null
  const edits: EditMessage[] = [
    {
      verb: 'createBus',
      args: {
        id,
        name: label,
        role: 'return',
        order: orderAfter(rows(session, 'channel')),
        colour: 7,
        to: main,
        feedId: `${id}-main`,
        layout: widest([STEREO, ...slots.map(s => rowOf(session, 'channel', s.channel).layout)]),
        slot: { id: `${id}-slot`, processor: first.processor, params: first.params }
      }
    }
  ]
  for (const s of slots) {
    const mains = rows(session, 'feed').filter(f => f.kind === 'main' && f.from === s.channel && f.levelDb !== null)
    for (const f of mains)
      edits.push({
        verb: 'setFeeds',
        args: {
          ids: [f.id],
          fields: { levelDb: s.mix === 1 ? null : Math.max(-150, f.levelDb! + 20 * log10(1 - s.mix)) }
        }
      })
    edits.push({
      verb: 'addSend',
      args: {
        ids: [s.channel],
        to: id,
        tap: 'post',
        levelDb: s.mix === 0 ? null : 20 * log10(s.mix),
        feedIds: [`${id}-${s.id}`]
      }
    })
    edits.push({ verb: 'removeSlot', args: { id: s.id } })
  }
  return { verb: 'several', args: { label: `One ${label.toLowerCase()} for ${slots.length} channels`, edits } }
}

import { z } from 'zod'
import { peekRows } from '../session/draft'
import { envelopeOn, targetOf, type Target } from '../movement/targets'
import { derivedId } from '../session/ids'
import { rowOf, type Session, slotsOf } from '../session/session'
import { channelNames, defineEdit, need } from './edit'
import { setEnvelope } from './setEnvelope'

/**
 * What on another channel answers to a target: the same field, a feed of the same kind to the same place, the same slot
 * counted by processor.
 */
export function counterpart(session: Session, target: Target, from: string, to: string): Target | null {
  if (target.owner === 'channel') return { ...target, row: to }
  if (target.owner === 'feed') {
    const feed = rowOf(session, 'feed', target.row)
    const same = peekRows(session, 'feed').find(
      f => f.from === to && f.kind === feed.kind && f.to === feed.to && f.slot === feed.slot
    )
    return same ? { ...target, row: same.id } : null
  }
  const processor = rowOf(session, 'slot', target.row).processor
  const at = (channel: string) => slotsOf(session, channel).filter(s => s.processor === processor)
  const same = at(to)[at(from).findIndex(s => s.id === target.row)]
  return same ? { ...target, row: same.id } : null
}

/** Movement of one channel onto others, as far as they have what moves. `prefix` names the new rows. */
export const copyEnvelopes = defineEdit({
  verb: 'copyEnvelopes',
  args: z.object({
    ids: z.array(z.string()).min(1),
    from: z.string(),
    to: z.array(z.string()).min(1),
    prefix: z.string()
  }),
  label: (s, { from, to }) => `Movement of ${channelNames(s, [from])} onto ${channelNames(s, to)}`,
  apply(draft, { ids, from, to, prefix }) {
    for (const id of ids) {
      const envelope = need(draft, 'envelope', id)
      for (const channel of to) {
        need(draft, 'channel', channel)
        const target = counterpart(draft, targetOf(envelope), from, channel)
        if (target)
          setEnvelope.apply(draft, {
            id: envelopeOn(draft, target)?.id ?? derivedId(prefix, `${channel}/${id}`),
            target,
            points: [...envelope.points],
            on: envelope.on
          })
      }
    }
  }
})

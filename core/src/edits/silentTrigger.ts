import { rowOf } from '../session/session'
import { z } from 'zod'
import { peekRows } from '../session/draft'
import { addKey } from './addKey'
import { channelNames, defineEdit, slotOwner } from './edit'

/** Channels that only steer: a key from before the fader, and every main feed and send of theirs gone. */
export const silentTrigger = defineEdit({
  verb: 'silentTrigger',
  args: z.object({ ids: z.array(z.string()).min(1), slot: z.string(), feedIds: z.array(z.string()) }),
  label: (s, a) => `${channelNames(s, a.ids)} as silent trigger of “${slotOwner(s, a.slot)}”`,
  apply(draft, { ids, slot, feedIds }) {
    const triggers = new Set(ids)
    const steers = new Set(
      peekRows(draft, 'feed')
        .filter(f => f.kind === 'key' && f.slot === slot && triggers.has(f.from ?? ''))
        .map(f => f.from)
    )
    const fresh = ids.map((id, i) => ({ id, feedId: feedIds[i] })).filter(x => !steers.has(x.id))
    if (fresh.length)
      addKey.apply(
        draft,
        addKey.args.parse({ ids: fresh.map(f => f.id), slot, tap: 'pre', feedIds: fresh.map(f => f.feedId) })
      )
    for (const f of peekRows(draft, 'feed')) {
      if (triggers.has(f.from ?? '') && (f.kind === 'main' || f.kind === 'send')) delete draft.feed[f.id]
      else if (f.kind === 'key' && f.slot === slot && triggers.has(f.from ?? '') && f.tap === 'post')
        rowOf(draft, 'feed', f.id).tap = 'pre'
    }
  }
})

import { z } from 'zod'
import { TAPS } from '../session/rows'
import { channelNames, defineEdit, need, put, slotOwner } from './edit'

/**
 * Lets channels steer a slot elsewhere. Taken before the fader by default, so that a trigger works with its fader down.
 */
export const addKey = defineEdit({
  verb: 'addKey',
  args: z.object({
    ids: z.array(z.string()).min(1),
    slot: z.string(),
    tap: z.enum(TAPS).default('pre'),
    feedIds: z.array(z.string())
  }),
  label: (s, a) => `Key from ${channelNames(s, a.ids)} to “${slotOwner(s, a.slot)}”`,
  apply(draft, { ids, slot, tap, feedIds }) {
    need(draft, 'slot', slot)
    ids.forEach((from, i) => {
      need(draft, 'channel', from)
      put(draft, 'feed', { id: feedIds[i], kind: 'key', from, slot, tap })
    })
  }
})

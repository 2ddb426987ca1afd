import { z } from 'zod'
import { slotLabel, PROCESSORS } from '../processors/table'
import { Refusal } from '../refusal'
import { TAPS } from '../session/rows'
import { makeRow } from '../session/session'
import { channelNames, defineEdit, need } from './edit'

/** Lets channels steer a slot elsewhere. Taken before the fader by default, so that a trigger works with its fader down. */
export const addKey = defineEdit({
  verb: 'addKey',
  args: z.object({ ids: z.array(z.string()).min(1), slot: z.string(), tap: z.enum(TAPS).default('pre'), feedIds: z.array(z.string()) }),
  label: (s, a) => `Key from ${channelNames(s, a.ids)} to “${s.channel[s.slot[a.slot]?.channel]?.name}”`,
  apply(draft, { ids, slot, tap, feedIds }) {
    const target = need(draft, 'slot', slot)
    if (PROCESSORS[target.processor]?.keyed === false) {
      throw new Refusal('badArguments', `${slotLabel(target.processor)} has no key input`, [slot])
    }
    ids.forEach((from, i) => {
      need(draft, 'channel', from)
      draft.feed[feedIds[i]] = makeRow('feed', { id: feedIds[i], kind: 'key', from, slot, tap })
    })
  }
})

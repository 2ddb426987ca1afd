import { z } from 'zod'
import { TAPS } from '../session/rows'
import { channelNames, defineEdit, need, put } from './edit'

/** Sends from channels to a bus, before or after the fader. */
export const addSend = defineEdit({
  verb: 'addSend',
  args: z.object({
    ids: z.array(z.string()).min(1),
    to: z.string(),
    tap: z.enum(TAPS).default('post'),
    levelDb: z.number().nullable().default(-12),
    feedIds: z.array(z.string())
  }),
  label: (s, a) => `Send from ${channelNames(s, a.ids)} to “${s.channel[a.to]?.name}”`,
  apply(draft, { ids, to, tap, levelDb, feedIds }) {
    need(draft, 'channel', to)
    ids.forEach((from, i) => {
      need(draft, 'channel', from)
      put(draft, 'feed', { id: feedIds[i], kind: 'send', from, to, tap, levelDb })
    })
  }
})

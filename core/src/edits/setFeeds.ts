import { z } from 'zod'
import { TAPS } from '../session/rows'
import { change, defineEdit, feedCount } from './edit'

/** Level, tap, placement, mute of feeds. */
export const setFeeds = defineEdit({
  verb: 'setFeeds',
  args: z.object({
    ids: z.array(z.string()).min(1),
    fields: z
      .object({
        levelDb: z.number().nullable(),
        tap: z.enum(TAPS),
        pan: z.number().nullable(),
        muted: z.boolean(),
        withMute: z.boolean(),
        to: z.string(),
        ports: z.array(z.string())
      })
      .partial()
  }),
  label: (s, a) => `Change of ${feedCount(s, a.ids)}`,
  apply(draft, { ids, fields }) {
    for (const id of ids) change(draft, 'feed', id, fields)
  }
})

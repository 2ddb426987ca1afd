import { z } from 'zod'
import { defineEdit, need, feedCount } from './edit'

export const removeFeeds = defineEdit({
  verb: 'removeFeeds',
  args: z.object({ ids: z.array(z.string()).min(1) }),
  label: (s, a) => `Remove ${feedCount(s, a.ids)}`,
  apply(draft, { ids }) {
    for (const id of ids) {
      need(draft, 'feed', id)
      delete draft.feed[id]
    }
  }
})

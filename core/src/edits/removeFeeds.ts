import { z } from 'zod'
import { defineEdit, need } from './edit'

export const removeFeeds = defineEdit({
  verb: 'removeFeeds',
  args: z.object({ ids: z.array(z.string()).min(1) }),
  label: (s, a) => `Remove ${a.ids.length === 1 ? `a ${s.feed[a.ids[0]]?.kind} feed` : `${a.ids.length} feeds`}`,
  apply(draft, { ids }) {
    for (const id of ids) {
      need(draft, 'feed', id)
      delete draft.feed[id]
    }
  }
})

import { rowOf } from '../session/session'
import { z } from 'zod'
import { channelNames, defineEdit, need, put } from './edit'
import { mainFeeds } from './mainFeeds'

/** One more main feed beside those that are there: a channel that splits into several buses. */
export const addMainFeed = defineEdit({
  verb: 'addMainFeed',
  args: z.object({ ids: z.array(z.string()).min(1), to: z.string(), feedIds: z.array(z.string()) }),
  label: (s, a) => `${channelNames(s, a.ids)} also to “${s.channel[a.to]?.name}”`,
  apply(draft, { ids, to, feedIds }) {
    need(draft, 'channel', to)
    const there = mainFeeds(draft, ids)
    ids.forEach((from, i) => {
      need(draft, 'channel', from)
      if ((there.get(from) ?? []).some(f => rowOf(draft, 'feed', f).to === to)) return
      put(draft, 'feed', { id: feedIds[i], kind: 'main', from, to })
    })
  }
})

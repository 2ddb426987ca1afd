import { z } from 'zod'
import { rowOf, type Session } from '../session/session'
import { channelNames, defineEdit, need, put } from './edit'
import { mainFeeds } from './mainFeeds'

/** Main feeds of these channels to one destination, or to none. Levels and taps of what was there are kept. */
export const setMainFeed = defineEdit({
  verb: 'setMainFeed',
  args: z.object({ ids: z.array(z.string()).min(1), to: z.string().nullable(), feedIds: z.array(z.string()) }),
  label: (s, a) =>
    a.to ? `${channelNames(s, a.ids)} to “${s.channel[a.to]?.name}”` : `Unassign ${channelNames(s, a.ids)}`,
  apply: (draft, { ids, to, feedIds }) => routeMain(draft, ids, to, feedIds)
})

/** @param byFrom main feeds of these channels as they are now, where they are known */
export function routeMain(
  draft: Session,
  ids: string[],
  to: string | null,
  feedIds: string[],
  byFrom = mainFeeds(draft, ids)
): void {
  if (to) need(draft, 'channel', to)
  ids.forEach((id, i) => {
    need(draft, 'channel', id)
    const [kept, ...surplus] = byFrom.get(id) ?? []
    surplus.forEach(f => {
      delete draft.feed[f]
    })
    if (!to) {
      if (kept) delete draft.feed[kept]
    } else if (kept) rowOf(draft, 'feed', kept).to = to
    else put(draft, 'feed', { id: feedIds[i], kind: 'main', from: id, to })
  })
}

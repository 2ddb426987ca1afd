import { z } from 'zod'
import { peekRow } from '../session/draft'
import { createBus } from './createBus'
import { defineEdit } from './edit'
import { mainFeeds } from './mainFeeds'
import { routeMain } from './setMainFeed'

/** Selected channels onto a new bus: all their main feeds go there, and the bus goes where they went. */
export const createSubmix = defineEdit({
  verb: 'createSubmix',
  args: z.object({
    id: z.string(),
    name: z.string(),
    order: z.string(),
    members: z.array(z.string()).min(1),
    layout: z.array(z.string()).default(['L', 'R']),
    colour: z.number().default(0),
    family: z.string().default(''),
    /** Where the submix goes when its members disagree; null for nowhere. */
    to: z.string().nullable().default(null),
    feedIds: z.array(z.string())
  }),
  label: (_, a) => `New submix “${a.name}” of ${a.members.length}`,
  apply(draft, { members, feedIds, to, ...fields }) {
    const before = mainFeeds(draft, members)
    const destinations = new Set(members.map(m => peekRow(draft, 'feed', before.get(m)?.[0] ?? '')?.to ?? null))
    const common = destinations.size === 1 ? [...destinations][0] : to
    createBus.apply(
      draft,
      createBus.args.parse({ ...fields, role: 'submix', to: common ?? to, feedId: feedIds[members.length] })
    )
    routeMain(draft, members, fields.id, feedIds, before)
  }
})

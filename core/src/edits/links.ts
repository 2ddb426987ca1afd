import { z } from 'zod'
import { LinkRow } from '../session/rows'
import { channelNames, defineEdit, need } from './edit'

/** Makes a link of strips or changes one: members, and what moves together. A strip is in one link at most. */
export const setLink = defineEdit({
  verb: 'setLink',
  args: z.object({
    id: z.string(),
    fields: z.object({ name: z.string(), order: z.string(), members: z.array(z.string()).min(2, 'a link needs two strips'), levels: z.boolean(), mutes: z.boolean(), solos: z.boolean() }).partial()
  }),
  label: (s, { id, fields }) => s.link[id] ? `Change of link “${s.link[id].name}”` : `Link ${channelNames(s, fields.members ?? [])}`,
  apply(draft, { id, fields }) {
    for (const m of fields.members ?? []) need(draft, 'channel', m)
    draft.link[id] = LinkRow.parse({ ...draft.link[id], id, ...fields })
    const mine = new Set(draft.link[id].members)
    for (const other of Object.values(draft.link)) {
      if (other.id === id) continue
      other.members = other.members.filter(m => !mine.has(m))
      if (other.members.length < 2) delete draft.link[other.id]
    }
  }
})

export const removeLink = defineEdit({
  verb: 'removeLink',
  args: z.object({ id: z.string() }),
  label: (s, { id }) => `Unlink “${s.link[id]?.name ?? id}”`,
  apply(draft, { id }) { need(draft, 'link', id); delete draft.link[id] }
})

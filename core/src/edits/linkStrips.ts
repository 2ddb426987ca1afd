import { z } from 'zod'
import { peekRows } from '../session/draft'
import { LinkRow } from '../session/rows'
import { rowOf, type Session } from '../session/session'
import { change, channelNames, defineEdit, need, put } from './edit'

/** Makes a link of strips or changes one: members, and what moves together. A strip is in one link at most. */
export const setLink = defineEdit({
  verb: 'setLink',
  args: z.object({
    id: z.string(),
    fields: z
      .object({
        name: z.string(),
        order: z.string(),
        members: z.array(z.string()).min(2, 'a link needs two strips'),
        levels: z.boolean(),
        mutes: z.boolean(),
        solos: z.boolean()
      })
      .partial()
  }),
  label: (s, { id, fields }) =>
    s.link[id] ? `Change of link “${s.link[id].name}”` : `Link ${channelNames(s, fields.members ?? [])}`,
  apply(draft, { id, fields }) {
    for (const m of fields.members ?? []) need(draft, 'channel', m)
    if (draft.link[id]) draft.link[id] = LinkRow.parse({ ...draft.link[id], ...fields })
    else put(draft, 'link', { id, ...fields })
    takeOut(draft, new Set(rowOf(draft, 'link', id).members), id)
  }
})

/** Strips leave the links they are in (but one); a link of which fewer than two are left goes. */
export function takeOut(draft: Session, channels: ReadonlySet<string>, keep?: string): void {
  for (const link of Object.values(draft.link)) {
    if (link.id === keep || !link.members.some(m => channels.has(m))) continue
    link.members = link.members.filter(m => !channels.has(m))
    if (link.members.length < 2) delete draft.link[link.id]
  }
}

/** What was compared with channels that go is compared with what stands in their place; null: with nothing. */
export function passReference(draft: Session, gone: ReadonlySet<string>, heir: string | null): void {
  for (const c of peekRows(draft, 'channel'))
    if (gone.has(c.reference ?? '')) change(draft, 'channel', c.id, { reference: heir === c.id ? null : heir })
}

export const removeLink = defineEdit({
  verb: 'removeLink',
  args: z.object({ id: z.string() }),
  label: (s, { id }) => `Unlink “${s.link[id]?.name ?? id}”`,
  apply(draft, { id }) {
    need(draft, 'link', id)
    delete draft.link[id]
  }
})

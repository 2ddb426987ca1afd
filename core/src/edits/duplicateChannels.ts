import { z } from 'zod'
import { peekRows } from '../session/draft'
import { carried } from '../movement/carry'
import { LOOP } from '../processors/table'
import { derivedId } from '../session/ids'
import type { Session } from '../session/session'
import { change, channelNames, defineEdit, need, put } from './edit'

/** What can go along with a copy. */
export const ALONG = ['clips', 'slots', 'main', 'sends', 'keys', 'arriving', 'envelopes'] as const
export type Along = (typeof ALONG)[number]

/**
 * Copies of channels. `main`, `sends` and `keys` leave the copy as they leave the original; `arriving` are the feeds
 * into it (of a copied channel into a copied bus: from the copy); `envelopes` go as far as what they move goes. A loop
 * stays with the original: it can be in one place only.
 */
export const duplicateChannels = defineEdit({
  verb: 'duplicateChannels',
  args: z.object({
    copies: z.array(z.object({ of: z.string(), id: z.string(), name: z.string(), order: z.string() })).min(1),
    along: z.array(z.enum(ALONG))
  }),
  label: (s, { copies }) =>
    `Duplicate ${channelNames(
      s,
      copies.map(c => c.of)
    )}`,
  apply(draft, { copies, along }) {
    const copyOf = new Map(copies.map(c => [c.of, c.id]))
    for (const { of, id, name, order } of copies) {
      put(draft, 'channel', {
        ...need(draft, 'channel', of),
        id,
        name,
        order,
        soloed: false,
        ready: false,
        listen: 'print',
        take: null
      })
      const mine = <T extends { id: string }>(row: T): T => ({ ...row, id: derivedId(id, row.id) })
      if (along.includes('clips')) {
        for (const row of peekRows(draft, 'phrase').filter(p => p.channel === of))
          put(draft, 'phrase', { ...mine(row), channel: id })
        for (const row of peekRows(draft, 'take').filter(t => t.channel === of))
          put(draft, 'take', { ...mine(row), channel: id })
        const takeOf = (take: string | null) => (take === null ? null : derivedId(id, take))
        for (const row of peekRows(draft, 'clip').filter(c => c.channel === of))
          put(draft, 'clip', { ...mine(row), channel: id, take: takeOf(row.take) })
        change(draft, 'channel', id, { take: takeOf(need(draft, 'channel', of).take) })
      }
      if (along.includes('slots')) {
        for (const slot of peekRows(draft, 'slot').filter(s => s.channel === of && s.processor !== LOOP)) {
          const copy = put(draft, 'slot', { ...mine(slot), channel: id })
          for (const key of peekRows(draft, 'feed').filter(f => f.slot === slot.id))
            put(draft, 'feed', { ...mine(key), slot: copy.id })
        }
      }
    }
    copyFeeds(draft, copyOf, along)
    if (!along.includes('envelopes')) return
    for (const { of, id } of copies) {
      const copyOfRow = (owner: 'feed' | 'slot', row: string) =>
        derivedId(id, row) in draft[owner] ? derivedId(id, row) : null
      for (const e of carried(draft, of, id, id, copyOfRow)) put(draft, 'envelope', e)
    }
  }
})

function copyFeeds(draft: Session, copyOf: Map<string, string>, along: readonly Along[]): void {
  const leaves = {
    main: along.includes('main'),
    send: along.includes('sends'),
    port: along.includes('sends'),
    key: along.includes('keys'),
    input: false
  }
  for (const feed of peekRows(draft, 'feed')) {
    const from = copyOf.get(feed.from ?? ''),
      to = copyOf.get(feed.to ?? '')
    if (from && leaves[feed.kind])
      put(draft, 'feed', { ...feed, id: derivedId(from, feed.id), from, to: to ?? feed.to })
    else if (!from && to && along.includes('arriving')) put(draft, 'feed', { ...feed, id: derivedId(to, feed.id), to })
  }
}

import { z } from 'zod'
import { rows } from '../session/session'
import { channelNames, defineEdit, need } from './edit'
import { takeOut } from './links'
import { routeMain } from './setMainFeed'

/** Takes channels away with all that belongs to them; what fed them by main feed goes where they went, or to `to`. */
export const removeChannels = defineEdit({
  verb: 'removeChannels',
  args: z.object({ ids: z.array(z.string()).min(1), to: z.string().nullable().optional() }),
  label: (s, a) => `Remove ${channelNames(s, a.ids)}`,
  apply(draft, { ids, to }) {
    const gone = new Set(ids)
    for (const id of ids) {
      need(draft, 'channel', id)
      const onward = to !== undefined ? to
        : rows(draft, 'feed').find(f => f.kind === 'main' && f.from === id && f.to && !gone.has(f.to))?.to ?? null
      const feeders = rows(draft, 'feed').filter(f => f.kind === 'main' && f.to === id && !gone.has(f.from!)).map(f => f.from!)
      if (feeders.length) routeMain(draft, feeders, onward, [])
    }
    const slots = new Set(rows(draft, 'slot').filter(s => gone.has(s.channel)).map(s => s.id))
    for (const f of rows(draft, 'feed')) {
      if (gone.has(f.from ?? '') || gone.has(f.to ?? '') || slots.has(f.slot ?? '')) delete draft.feed[f.id]
    }
    for (const p of rows(draft, 'print')) if (gone.has(p.channel) || gone.has(p.source)) delete draft.print[p.id]
    slots.forEach(s => { delete draft.slot[s] })
    for (const p of rows(draft, 'phrase')) if (gone.has(p.channel)) delete draft.phrase[p.id]
    for (const c of rows(draft, 'clip')) if (gone.has(c.channel)) delete draft.clip[c.id]
    if (gone.has(draft.session.session.heardChannel ?? '')) draft.session.session.heardChannel = null
    takeOut(draft, gone)
    ids.forEach(id => { delete draft.channel[id] })
  }
})

import { z } from 'zod'
import { peekRows } from '../session/draft'
import { isHeardPrint, type Session } from '../session/session'
import { change, channelNames, defineEdit, need } from './edit'
import { passReference, takeOut } from './linkStrips'
import { routeMain } from './setMainFeed'

/** Is a bus heard in a print that stays? What fed it is then not to be heard beside that. */
const isHeardInPrint = (draft: Session, bus: string, gone: ReadonlySet<string>): boolean =>
  peekRows(draft, 'print').some(
    p =>
      p.source === bus &&
      p.takesOver &&
      !gone.has(p.channel) &&
      isHeardPrint(draft, p) &&
      !need(draft, 'channel', p.channel).parked
  )

/**
 * Takes channels away with all that belongs to them; what fed them by main feed goes where they went, or to `to`.
 * Prints of them stay as they are heard, with what is known of them.
 */
export const removeChannels = defineEdit({
  verb: 'removeChannels',
  args: z.object({ ids: z.array(z.string()).min(1), to: z.string().nullable().optional() }),
  label: (s, a) => `Remove ${channelNames(s, a.ids)}`,
  apply(draft, { ids, to }) {
    const gone = new Set(ids)
    ids.forEach(id => need(draft, 'channel', id))
    const mains = peekRows(draft, 'feed').filter(f => f.kind === 'main' && f.from && f.to)
    /** Where each bus that goes sends on to, and who feeds it and stays. */
    const onward = new Map<string, string>(),
      feeders = new Map<string, string[]>()
    for (const { from, to } of mains as { from: string; to: string }[]) {
      if (gone.has(from) && !gone.has(to) && !onward.has(from)) onward.set(from, to)
      if (gone.has(to) && !gone.has(from)) feeders.set(to, [...(feeders.get(to) ?? []), from])
    }
    for (const [bus, list] of feeders)
      routeMain(
        draft,
        list,
        to !== undefined ? to : isHeardInPrint(draft, bus, gone) ? null : (onward.get(bus) ?? null),
        []
      )
    const slots = new Set(
      peekRows(draft, 'slot')
        .filter(s => gone.has(s.channel))
        .map(s => s.id)
    )
    for (const f of peekRows(draft, 'feed')) {
      if (gone.has(f.from ?? '') || gone.has(f.to ?? '') || slots.has(f.slot ?? '')) delete draft.feed[f.id]
    }
    for (const p of peekRows(draft, 'print')) {
      if (gone.has(p.channel)) delete draft.print[p.id]
      else if (gone.has(p.source ?? '') || gone.has(p.share ?? ''))
        change(draft, 'print', p.id, {
          source: null,
          share: null,
          sourceName: [p.share, p.source].flatMap(id => (id ? need(draft, 'channel', id).name : [])).join(' in '),
          takesOver: false
        })
    }
    slots.forEach(s => {
      delete draft.slot[s]
    })
    for (const p of peekRows(draft, 'phrase')) if (gone.has(p.channel)) delete draft.phrase[p.id]
    for (const table of ['clip', 'take'] as const)
      for (const r of peekRows(draft, table)) if (gone.has(r.channel)) delete draft[table][r.id]
    const session = need(draft, 'session', 'session')
    if (gone.has(session.heardChannel ?? '')) session.heardChannel = null
    takeOut(draft, gone)
    passReference(draft, gone, null)
    ids.forEach(id => {
      delete draft.channel[id]
    })
  }
})

import { z } from 'zod'
import { peekRows } from '../session/draft'
import { layoutName } from '../session/layouts'
import { lostLegs } from '../session/lostLegs'
import { Refusal } from '../foundation/refusal'
import type { Session } from '../session/session'
import { channelNames, defineEdit, need } from './edit'

/**
 * Another layout for channels. Legs that would have no place on the way in or out make it a refusal that names them,
 * unless `dropping` says that this is meant.
 */
export const setLayout = defineEdit({
  verb: 'setLayout',
  args: z.object({
    ids: z.array(z.string()).min(1),
    layout: z.array(z.string().min(1).max(8)).min(1).max(24),
    dropping: z.boolean().default(false)
  }),
  label: (s, a) => `${channelNames(s, a.ids)} to ${layoutName(a.layout)}`,
  apply(draft, { ids, layout, dropping }) {
    const lostBefore = dropped(draft)
    for (const id of ids) {
      const channel = need(draft, 'channel', id)
      channel.layout = [...layout]
      channel.flippedLegs = channel.flippedLegs.filter(l => l < layout.length)
      channel.mutedLegs = channel.mutedLegs.filter(l => l < layout.length)
    }
    if (dropping) return
    const lost = [...dropped(draft)].filter(([key]) => !lostBefore.has(key))
    if (!lost.length) return
    throw new Refusal(
      'layout',
      `In ${layoutName(layout)} something would be lost: ${lost
        .slice(0, 4)
        .map(([, text]) => text)
        .join('; ')}${lost.length > 4 ? ` and ${lost.length - 4} more` : ''}`,
      lost.map(([key]) => key),
      'Nothing was changed.'
    )
  }
})

/** Legs without a place, by the feed they are lost in. */
function dropped(draft: Session): Map<string, string> {
  const lost = new Map<string, string>()
  for (const f of peekRows(draft, 'feed')) {
    if (f.kind !== 'main' && f.kind !== 'send') continue
    const from = draft.channel[f.from],
      to = draft.channel[f.to]
    if (!from || !to) continue
    const legs = lostLegs(from.layout, to.layout)
    if (legs.length) lost.set(f.id, `${legs.join(', ')} of “${from.name}” in “${to.name}”`)
  }
  return lost
}

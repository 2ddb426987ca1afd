// Audio that nothing plays leaves the session. What plays it has to go first.
import { z } from 'zod'
import { Refusal } from '../foundation/refusal'
import { peekRows } from '../session/draft'
import { defineEdit, need } from './edit'

export const removeMedia = defineEdit({
  verb: 'removeMedia',
  args: z.object({ ids: z.array(z.string()).min(1) }),
  label: (s, { ids }) =>
    ids.length === 1 ? `Remove “${s.medium[ids[0]!]?.name ?? ids[0]}”` : `Remove ${ids.length} pieces of audio`,
  apply(draft, { ids }) {
    const gone = new Set(ids)
    const clip = peekRows(draft, 'clip').find(c => gone.has(c.medium)),
      slot = peekRows(draft, 'slot').find(s => gone.has(String(s.params.response)))
    const user = clip?.channel ?? slot?.channel,
      player = peekRows(draft, 'unit').find(u => gone.has(u.plays ?? ''))
    if (user !== undefined)
      throw new Refusal(
        'standsOn',
        `“${draft.channel[user]?.name ?? user}” plays audio that was to be removed`,
        [user],
        'Nothing was changed.'
      )
    if (player)
      throw new Refusal(
        'standsOn',
        `“${player.name}” plays audio that was to be removed`,
        [player.id],
        'Nothing was changed.'
      )
    for (const id of ids) {
      need(draft, 'medium', id)
      delete draft.medium[id]
    }
  }
})

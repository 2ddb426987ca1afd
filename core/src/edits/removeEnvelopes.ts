import { z } from 'zod'
import { targetWords, targetOf } from '../movement/targets'
import { defineEdit, need } from './edit'

/** Takes movement away: what moved stands still again, where it stood. */
export const removeEnvelopes = defineEdit({
  verb: 'removeEnvelopes',
  args: z.object({ ids: z.array(z.string()).min(1) }),
  label: (s, { ids }) => {
    const only = ids.length === 1 ? s.envelope[ids[0] ?? ''] : undefined
    return `Remove ${only ? targetWords(s, targetOf(only)) : `${ids.length} envelopes`}`
  },
  apply(draft, { ids }) {
    for (const id of ids) {
      need(draft, 'envelope', id)
      delete draft.envelope[id]
    }
  }
})

// What a comparison of prints found, kept with them.
import { z } from 'zod'
import { MOST_PROOFS, Proof } from '../session/rows'
import { change, channelNames, defineEdit, need } from './edit'

export const keepProof = defineEdit({
  verb: 'keepProof',
  args: z.object({ ids: z.array(z.string()).min(1), proof: Proof }),
  label: (s, { ids }) => `Proof of ${channelNames(s, [...new Set(ids.map(id => s.print[id]?.channel ?? id))])}`,
  apply(draft, { ids, proof }) {
    for (const id of ids) {
      const { proofs } = need(draft, 'print', id)
      change(draft, 'print', id, { proofs: [proof, ...proofs].slice(0, MOST_PROOFS) })
    }
  }
})

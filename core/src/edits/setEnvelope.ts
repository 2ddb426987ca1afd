import { z } from 'zod'
import { envelopeOn, movingOf, targetWords } from '../movement/targets'
import { Refusal } from '../foundation/refusal'
import { EnvelopeRow, EnvelopePoint } from '../session/rows'
import { defineEdit, put } from './edit'

export const TargetArgs = z.object({ owner: z.enum(['channel', 'feed', 'slot']), row: z.string(), field: z.string() })

/** Points of an envelope, or whether it is on. A target has one envelope: `id` counts where there is none yet. */
export const setEnvelope = defineEdit({
  verb: 'setEnvelope',
  args: z.object({
    id: z.string(),
    target: TargetArgs,
    points: z.array(EnvelopePoint).optional(),
    on: z.boolean().optional()
  }),
  label: (s, { target }) => targetWords(s, target),
  apply(draft, { id, target, points, on }) {
    if (!movingOf(draft, target))
      throw new Refusal(
        'badArguments',
        `“${target.field}” of the ${target.owner} “${target.row}” cannot follow an envelope`,
        [target.row]
      )
    const known = envelopeOn(draft, target)
    const fields = { ...(points && { points }), ...(on !== undefined && { on }) }
    if (known) draft.envelope[known.id] = EnvelopeRow.parse({ ...known, ...fields })
    else put(draft, 'envelope', { id, [target.owner]: target.row, field: target.field, ...fields })
  }
})

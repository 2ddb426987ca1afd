// Bars of a print that were run again: its clip plays the audio with the new ones in it. The former audio stays in the
// session.
import { z } from 'zod'
import { Refusal } from '../foundation/refusal'
import { MediumRow, PrintRow } from '../session/rows'
import { change, channelNames, defineEdit, need, put } from './edit'

export const mendPrint = defineEdit({
  verb: 'mendPrint',
  args: z.object({
    id: z.string(),
    medium: MediumRow,
    note: z.string().max(1000),
    ...PrintRow.pick({ faults: true, residualDb: true, verified: true }).shape
  }),
  label: (s, { id }) => `Run bars of ${channelNames(s, [s.print[id]?.channel ?? id])} again`,
  apply(draft, { id, medium, note, ...fields }) {
    const { clip, notes, channel } = need(draft, 'print', id)
    const { medium: former } = need(draft, 'clip', clip ?? '')
    if (need(draft, 'medium', former).legs !== medium.legs)
      throw new Refusal(
        'badArguments',
        `“${draft.channel[channel]?.name}” plays audio of other legs now`,
        [channel],
        'Nothing was changed.'
      )
    put(draft, 'medium', medium)
    change(draft, 'clip', clip!, { medium: medium.id })
    change(draft, 'print', id, { ...fields, notes: [...notes, note].slice(-1000) })
  }
})

/** Places that went wrong and are good enough. */
export const acceptFaults = defineEdit({
  verb: 'acceptFaults',
  args: z.object({ id: z.string() }),
  label: (s, { id }) => `Keep ${channelNames(s, [s.print[id]?.channel ?? id])} as it is`,
  apply(draft, { id }) {
    need(draft, 'print', id)
    change(draft, 'print', id, { faults: [] })
  }
})

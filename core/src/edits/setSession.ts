import { z } from 'zod'
import { FamilyRule, HEARD_AS, SessionRow } from '../session/rows'
import { defineEdit } from './edit'

/** Name of the session, its rig, its tempo, what is heard and how loud. */
export const setSession = defineEdit({
  verb: 'setSession',
  args: z
    .object({
      name: z.string(),
      rig: z.string().nullable(),
      heardChannel: z.string().nullable(),
      heardLevelDb: z.number().nullable(),
      heardAs: z.enum(HEARD_AS),
      families: z.array(FamilyRule).nullable(),
      tempo: z.array(z.tuple([z.number(), z.number()])),
      beatsPerBar: z.number()
    })
    .partial(),
  label: (_, a) =>
    'heardAs' in a
      ? 'How it is heard'
      : 'heardChannel' in a
        ? 'What is heard'
        : 'name' in a
          ? 'Rename the session'
          : 'families' in a
            ? 'Family words'
            : 'tempo' in a || 'beatsPerBar' in a
              ? 'Tempo'
              : 'rig' in a
                ? 'Change of rig'
                : 'Listening level',
  apply(draft, fields) {
    draft.session.session = SessionRow.parse({ ...draft.session.session, ...fields })
  }
})

import { z } from 'zod'
import { FamilyRule, HEARD_AS, SessionRow } from '../session/rows'
import { Refusal } from '../foundation/refusal'
import { rows, settings, type Session } from '../session/session'
import { defineEdit } from './edit'

/** Rows that count in frames, or were measured at a rate. */
const holdsFrames = (s: Session): boolean =>
  (['medium', 'clip', 'envelope', 'print'] as const).some(t => rows(s, t).length > 0) ||
  rows(s, 'loop').some(l => l.ping)

/** Name of the session, its rate while it holds no audio, its rig, its tempo, what is heard and how loud. */
export const setSession = defineEdit({
  verb: 'setSession',
  args: z
    .object({
      name: z.string(),
      sampleRate: z.number(),
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
      : 'sampleRate' in a
        ? `Rate of the session: ${(a.sampleRate ?? 0) / 1000} kHz`
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
    const { sampleRate } = fields
    if (sampleRate !== undefined && sampleRate !== settings(draft).sampleRate && holdsFrames(draft))
      throw new Refusal('wrongRate', 'The rate of a session can be changed only as long as it holds no audio')
    draft.session.session = SessionRow.parse({ ...draft.session.session, ...fields })
  }
})

import { z } from 'zod'
import { Note, PhraseRow } from '../session/rows'
import { defineEdit, need, put } from './edit'

const Fields = z
  .object({
    name: z.string(),
    as: z.enum(['notes', 'steps', 'chord']),
    voice: z.enum(['pad', 'pluck', 'drum']),
    levelDb: z.number().nullable(),
    startBeat: z.number(),
    lengthBeats: z.number(),
    repeats: z.number(),
    stepBeats: z.number(),
    notes: z.array(Note)
  })
  .partial()

/** Makes a phrase on a track or changes one: its notes, its voice, where it begins and how often it comes. */
export const setPhrase = defineEdit({
  verb: 'setPhrase',
  args: z.object({ id: z.string(), channel: z.string(), fields: Fields }),
  label: (s, { id, channel, fields }) =>
    `${s.phrase[id] ? (fields.notes ? 'Notes' : 'Phrase') : 'New phrase'} of “${s.channel[channel]?.name ?? channel}”`,
  apply(draft, { id, channel, fields }) {
    need(draft, 'channel', channel)
    if (draft.phrase[id]) draft.phrase[id] = PhraseRow.parse({ ...draft.phrase[id], ...fields })
    else put(draft, 'phrase', { id, channel, ...fields })
  }
})

export const removePhrases = defineEdit({
  verb: 'removePhrases',
  args: z.object({ ids: z.array(z.string()).min(1) }),
  label: (s, { ids }) =>
    `Remove ${ids.length === 1 ? ids.map(id => `a phrase of “${s.channel[s.phrase[id]?.channel ?? '']?.name}”`).join('') : `${ids.length} phrases`}`,
  apply(draft, { ids }) {
    for (const id of ids) {
      need(draft, 'phrase', id)
      delete draft.phrase[id]
    }
  }
})

import { z } from 'zod'
import { change, channelNames, defineEdit } from './edit'

const Fields = z
  .object({
    name: z.string(),
    colour: z.number(),
    family: z.string(),
    familyGuessed: z.boolean(),
    order: z.string(),
    levelDb: z.number().nullable(),
    trimDb: z.number().nullable(),
    pan: z.number(),
    muted: z.boolean(),
    soloed: z.boolean(),
    safe: z.boolean(),
    parked: z.boolean(),
    ready: z.boolean(),
    listen: z.enum(['print', 'feed', 'follow']),
    flippedLegs: z.array(z.number()),
    mutedLegs: z.array(z.number()),
    lowCutHz: z.number().nullable(),
    highCutHz: z.number().nullable(),
    sourceDbu: z.number().nullable(),
    reference: z.string().nullable()
  })
  .partial()

const WORDS: Record<string, string> = {
  levelDb: 'Level',
  trimDb: 'Trim',
  muted: 'Mute',
  soloed: 'Solo',
  safe: 'Solo safe',
  parked: 'Park',
  name: 'Rename',
  colour: 'Colour',
  pan: 'Pan',
  family: 'Family',
  listen: 'Listen',
  reference: 'Reference',
  flippedLegs: 'Polarity',
  lowCutHz: 'Low cut',
  highCutHz: 'High cut',
  sourceDbu: 'Voltage'
}

/** The same fields on one channel or many. */
export const setChannels = defineEdit({
  verb: 'setChannels',
  args: z.object({ ids: z.array(z.string()).min(1), fields: Fields }),
  label: (s, { ids, fields }) => `${WORDS[Object.keys(fields)[0] ?? ''] ?? 'Change'} of ${channelNames(s, ids)}`,
  apply(draft, { ids, fields }) {
    for (const id of ids) change(draft, 'channel', id, fields)
  }
})

import { z } from 'zod'
import { change, channelNames, defineEdit, need } from './edit'

/** Where clips begin, in frames from the start of the session. */
export const placeClips = defineEdit({
  verb: 'placeClips',
  args: z.object({ clips: z.array(z.object({ id: z.string(), startFrame: z.number().int() })).min(1) }),
  label: (s, { clips }) => `Place ${channelNames(s, [...new Set(clips.map(c => s.clip[c.id]?.channel ?? c.id))])}`,
  apply(draft, { clips }) {
    for (const { id, startFrame } of clips) {
      need(draft, 'clip', id)
      change(draft, 'clip', id, { startFrame })
    }
  }
})

import { z } from 'zod'
import { Refusal } from '../foundation/refusal'
import { peekRows } from '../session/draft'
import { mayJoin } from '../propose/pairs'
import { STEREO } from '../session/layouts'
import { change, defineEdit, need } from './edit'
import { passReference, takeOut } from './linkStrips'

/**
 * Two mono tracks as the legs of one stereo track: the left one keeps its place, settings and feeds, the audio of the
 * right one plays on its right leg at the level that it had beside it.
 */
export const joinTracks = defineEdit({
  verb: 'joinTracks',
  args: z.object({
    pairs: z.array(z.object({ left: z.string(), right: z.string(), name: z.string().min(1).max(300) })).min(1)
  }),
  label: (_, { pairs }) => (pairs.length === 1 ? `Stereo track “${pairs[0]?.name}”` : `${pairs.length} stereo tracks`),
  apply(draft, { pairs }) {
    for (const { left, right, name } of pairs) {
      const why = mayJoin(draft, left, right)
      if (why)
        throw new Refusal('layout', `They cannot be one stereo track: ${why}`, [left, right], 'Nothing was changed.')
      const [l, r] = [need(draft, 'channel', left), need(draft, 'channel', right)]
      const beside =
        r.levelDb === null || l.levelDb === null ? 0 : r.levelDb + (r.trimDb ?? 0) - l.levelDb - (l.trimDb ?? 0)
      for (const clip of peekRows(draft, 'clip')) {
        const leg = clip.legMap?.[0] ?? 0
        if (clip.channel === left) change(draft, 'clip', clip.id, { legMap: [leg, -1] })
        if (clip.channel === right)
          change(draft, 'clip', clip.id, {
            channel: left,
            legMap: [-1, leg],
            gainDb: clip.gainDb === null || r.levelDb === null ? null : clip.gainDb + beside
          })
      }
      change(draft, 'channel', left, {
        name,
        layout: [...STEREO],
        pan: 0,
        flippedLegs: [...(l.flippedLegs.length ? [0] : []), ...(r.flippedLegs.length ? [1] : [])],
        mutedLegs: [...(l.mutedLegs.length ? [0] : []), ...(r.mutedLegs.length || r.muted !== l.muted ? [1] : [])]
      })
      for (const f of peekRows(draft, 'feed')) if (f.from === right) delete draft.feed[f.id]
      const session = need(draft, 'session', 'session')
      if (session.heardChannel === right) session.heardChannel = left
      takeOut(draft, new Set([right]))
      passReference(draft, new Set([right]), left)
      delete draft.channel[right]
    }
  }
})

import { z } from 'zod'
import { channelNames, defineEdit, need } from './edit'

/** Moves faders by the same number of dB; a fader at −∞ stays there. */
export const moveLevels = defineEdit({
  verb: 'moveLevels',
  args: z.object({ ids: z.array(z.string()).min(1), byDb: z.number().min(-60).max(60) }),
  label: (s, a) => `Level of ${channelNames(s, a.ids)} by ${a.byDb > 0 ? '+' : '−'}${Math.abs(a.byDb).toFixed(1)} dB`,
  apply(draft, { ids, byDb }) {
    for (const id of ids) {
      const channel = need(draft, 'channel', id)
      if (channel.levelDb !== null) channel.levelDb = Math.max(-150, Math.min(12, channel.levelDb + byDb))
    }
  }
})

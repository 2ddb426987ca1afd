import { z } from 'zod'
import { channelNames, defineEdit, need } from './edit'

const TOP_DB = 12

/**
 * Moves faders by the same number of dB: together they stop where the highest one does, so that they keep their
 * distances. A fader at −∞ stays there.
 */
export const moveLevels = defineEdit({
  verb: 'moveLevels',
  args: z.object({ ids: z.array(z.string()).min(1), byDb: z.number().min(-60).max(60) }),
  label: (s, a) => `Level of ${channelNames(s, a.ids)} by ${a.byDb > 0 ? '+' : '−'}${Math.abs(a.byDb).toFixed(1)} dB`,
  apply(draft, { ids, byDb }) {
    const levels = ids.map(id => need(draft, 'channel', id).levelDb).filter(l => l !== null)
    const by = Math.min(byDb, Math.max(0, TOP_DB - Math.max(...levels)))
    for (const id of ids) {
      const channel = need(draft, 'channel', id)
      if (channel.levelDb !== null) channel.levelDb = Math.max(-150, channel.levelDb + by)
    }
  }
})

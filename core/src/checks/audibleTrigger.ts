import { rowOf, rows, settings } from '../session/session'
import type { Check } from './check'

/**
 * A channel that steers a key, whose own way to the main is closed (no main feed, or its fader down), but that still
 * arrives at what is heard by a send from before the fader or by another way.
 */
export const audibleTrigger: Check = {
  id: 'audibleTrigger',
  find(session, network) {
    const heard = settings(session).heardChannel
    if (!heard) return []
    return rows(session, 'channel')
      .filter(c => !c.parked && !c.muted && c.id !== heard)
      .flatMap(c => {
        const leaving = network.feedsFrom.get(c.id) ?? []
        if (!leaving.some(f => f.kind === 'key')) return []
        const open = network
          .next(c.id)
          .filter(f => !f.muted && f.levelDb !== null && (f.tap !== 'post' || c.levelDb !== null))
        const meantSilent =
          !leaving.some(f => f.kind === 'main' && !f.muted && f.levelDb !== null) || c.levelDb === null
        if (!meantSilent) return []
        const audible = open.filter(f => network.reach([f.to], id => network.downstream(id)).has(heard))
        if (!audible.length) return []
        const names = audible.map(f => `“${rowOf(session, 'channel', f.to).name}”`).join(', ')
        return [
          {
            sentence: `“${c.name}” only steers a key, and is still heard through ${names}.`,
            about: [c.id, ...audible.map(f => f.to)],
            consequence: 'A trigger that is meant to be silent can be heard.',
            fixes: [
              {
                label: `Remove the ${audible.length === 1 ? audible.map(f => f.kind).join() : 'feeds'} to ${names}`,
                edit: { verb: 'removeFeeds', args: { ids: audible.map(f => f.id) } }
              }
            ]
          }
        ]
      })
  }
}

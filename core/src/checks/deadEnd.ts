import { rows, settings } from '../session/session'
import type { Check } from './check'

/** A bus that is fed but goes nowhere, and is not what is heard. */
export const deadEnd: Check = {
  id: 'deadEnd',
  find(session, network) {
    const main = rows(session, 'channel').find(c => c.role === 'main')
    return rows(session, 'channel')
      .filter(c => c.kind === 'bus' && c.role !== 'main' && !c.parked && c.id !== settings(session).heardChannel)
      .filter(c => (network.feedsTo.get(c.id) ?? []).length && !(network.feedsFrom.get(c.id) ?? []).length)
      .map(c => ({
        sentence: `“${c.name}” goes nowhere.`,
        about: [c.id],
        consequence:
          c.role === 'return' ? 'The return is computed but not heard.' : 'What feeds it is not heard through it.',
        fixes: main
          ? [
              {
                label: `Feed it to ${main.name}`,
                edit: { verb: 'setMainFeed', args: { ids: [c.id], to: main.id, feedIds: [`main-of-${c.id}`] } }
              }
            ]
          : []
      }))
  }
}

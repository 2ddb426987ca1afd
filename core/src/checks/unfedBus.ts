import { rows } from '../session/session'
import type { Check } from './check'

export const unfedBus: Check = {
  id: 'unfedBus',
  find: (session, network) =>
    rows(session, 'channel')
      .filter(c => c.kind === 'bus' && !c.parked && !(network.feedsTo.get(c.id) ?? []).length)
      .map(c => ({
        sentence: `Nothing feeds “${c.name}”.`,
        about: [c.id],
        consequence: 'It stays silent, whatever its fader says.',
        fixes: [{ label: 'Remove it', edit: { verb: 'removeChannels', args: { ids: [c.id] } } }]
      }))
}

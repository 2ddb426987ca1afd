import { rows } from '../session/session'
import type { Check } from './check'

export const unfedBus: Check = {
  id: 'unfedBus',
  // Before there are tracks there is nothing that could feed a bus; an output that nothing goes to is a free one.
  find: (session, network) =>
    rows(session, 'channel')
      .filter((_, __, all) => all.some(c => c.kind === 'track'))
      .filter(c => c.kind === 'bus' && c.role !== 'output' && !c.parked && !(network.feedsTo.get(c.id) ?? []).length)
      .map(c => ({
        sentence: `Nothing feeds “${c.name}”.`,
        about: [c.id],
        consequence: 'It stays silent, whatever its fader says.',
        fixes: [{ label: 'Remove it', edit: { verb: 'removeChannels', args: { ids: [c.id] } } }]
      }))
}

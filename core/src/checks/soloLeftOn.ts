import { rowOf, rows } from '../session/session'
import type { Check } from './check'

export const soloLeftOn: Check = {
  id: 'soloLeftOn',
  find(session) {
    const ids = rows(session, 'channel')
      .filter(c => c.soloed)
      .map(c => c.id)
    return ids.length
      ? [
          {
            sentence: `Solo is on: ${ids.map(id => rowOf(session, 'channel', id).name).join(', ')}.`,
            about: ids,
            consequence: 'You hear only part of the session. Prints ignore solo.',
            fixes: [{ label: 'End solo', edit: { verb: 'setChannels', args: { ids, fields: { soloed: false } } } }]
          }
        ]
      : []
  }
}

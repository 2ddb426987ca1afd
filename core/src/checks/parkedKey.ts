import { rowOf, rows } from '../session/session'
import type { Check } from './check'

/** A parked channel is not computed: what it is to steer stands still. */
export const parkedKey: Check = {
  id: 'parkedKey',
  find: session =>
    rows(session, 'feed')
      .filter(f => f.kind === 'key')
      .filter(f => rowOf(session, 'channel', f.from).parked)
      .map(f => {
        const target = rowOf(session, 'channel', rowOf(session, 'slot', f.slot).channel)
        return {
          sentence: `“${target.name}” is keyed from “${rowOf(session, 'channel', f.from).name}”, which is parked.`,
          about: [target.id, f.from],
          consequence: 'The slot listens to its own channel instead.',
          fixes: [
            {
              label: `Bring “${rowOf(session, 'channel', f.from).name}” back`,
              edit: { verb: 'setChannels', args: { ids: [f.from], fields: { parked: false } } }
            },
            { label: 'Remove the key', edit: { verb: 'removeFeeds', args: { ids: [f.id] } } }
          ]
        }
      })
}

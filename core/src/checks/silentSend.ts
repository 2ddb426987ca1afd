import { rowOf, rows } from '../session/session'
import type { Check } from './check'

/** A send or key left at −∞ does nothing. */
export const silentSend: Check = {
  id: 'silentSend',
  find: session =>
    rows(session, 'feed')
      .filter(f => f.kind === 'send' || f.kind === 'key')
      .filter(f => f.levelDb === null)
      .map(f => {
        const to = rowOf(session, 'channel', f.kind === 'key' ? rowOf(session, 'slot', f.slot).channel : f.to)
        return {
          sentence: `The ${f.kind} from “${rowOf(session, 'channel', f.from).name}” to “${to.name}” is at −∞.`,
          about: [f.from, to.id],
          consequence: f.kind === 'key' ? 'The key steers nothing.' : 'Nothing arrives at the return from here.',
          fixes: [
            {
              label: f.kind === 'key' ? 'Set it to 0 dB' : 'Set it to −12 dB',
              edit: { verb: 'setFeeds', args: { ids: [f.id], fields: { levelDb: f.kind === 'key' ? 0 : -12 } } }
            },
            { label: 'Remove it', edit: { verb: 'removeFeeds', args: { ids: [f.id] } } }
          ]
        }
      })
}

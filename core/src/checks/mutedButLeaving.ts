import { rowOf, rows } from '../session/session'
import type { Check } from './check'

/**
 * A muted channel goes on steering a key, or leaving by a port, from a tap before its mute. Often meant; sometimes not.
 */
export const mutedButLeaving: Check = {
  id: 'mutedButLeaving',
  find: session =>
    rows(session, 'feed')
      .filter(f => f.kind === 'key' || f.kind === 'port')
      .filter(
        f =>
          rowOf(session, 'channel', f.from).muted && !f.muted && !f.withMute && (f.kind === 'key' || f.tap !== 'post')
      )
      .map(f => {
        const name = rowOf(session, 'channel', f.from).name
        const where =
          f.kind === 'key'
            ? `steers “${rowOf(session, 'channel', rowOf(session, 'slot', f.slot).channel).name}”`
            : `leaves by ${f.ports.map(p => rowOf(session, 'port', p).name).join(', ')}`
        return {
          sentence: `“${name}” is muted and still ${where}.`,
          about: [f.from],
          consequence:
            f.kind === 'key'
              ? 'A silent trigger works like this; a channel that should be out of the way does not.'
              : 'Whatever stands behind that port still gets it.',
          fixes: [
            {
              label: 'Let its mute close this feed too',
              edit: { verb: 'setFeeds', args: { ids: [f.id], fields: { withMute: true } } }
            }
          ]
        }
      })
}

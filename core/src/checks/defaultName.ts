import { rows } from '../session/session'
import type { Check } from './check'

const LEFT_AS_IT_CAME = /^(track|audio|submix|bus|return|stem|aux|send)[ _-]*\d*$/i

/** A name that says nothing, on a channel that is in use. */
export const defaultName: Check = {
  id: 'defaultName',
  find: (session, network) =>
    rows(session, 'channel')
      .filter(
        c =>
          !c.parked && LEFT_AS_IT_CAME.test(c.name.trim()) && (network.feedsFrom.has(c.id) || network.feedsTo.has(c.id))
      )
      .map(c => ({
        sentence: `“${c.name}” still has the name it came with.`,
        about: [c.id],
        consequence: 'Whoever opens the session next cannot tell what it is.',
        fixes:
          c.family && !rows(session, 'channel').some(o => o.name === c.family)
            ? [
                {
                  label: `Call it “${c.family}”`,
                  edit: { verb: 'setChannels', args: { ids: [c.id], fields: { name: c.family } } }
                }
              ]
            : []
      }))
}

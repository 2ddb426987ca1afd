import { rowOf, rows } from '../session/session'
import type { Check } from './check'

/** A DI that is re-amped, with something else of the mix at the same port. */
export const strangerInUnit: Check = {
  id: 'strangerInUnit',
  find: (session, network) =>
    rows(session, 'feed').flatMap(di => {
      if (di.kind !== 'port' || di.tap !== 'input' || di.muted || di.levelDb === null) return []
      return di.ports.flatMap(port => {
        const others = (network.feedsToPort.get(port) ?? []).filter(
          f => f.id !== di.id && f.tap !== 'input' && !f.muted && f.levelDb !== null
        )
        if (!others.length) return []
        const name = (id: string) => `“${rowOf(session, 'channel', id).name}”`
        return [
          {
            sentence: `${others.map(f => name(f.from)).join(', ')} ${others.length > 1 ? 'go' : 'goes'} to ${rowOf(session, 'port', port).name} together with the input of ${name(di.from)}.`,
            about: [di.from, port, ...others.map(f => f.from)],
            consequence: 'Whatever is behind that port gets both, and both are in what is printed from it.',
            fixes: [
              {
                label: `Leave ${name(di.from)} there alone`,
                edit: { verb: 'removeFeeds', args: { ids: others.map(f => f.id) } }
              }
            ]
          }
        ]
      })
    })
}

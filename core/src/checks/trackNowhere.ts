import { isHeardPrint, rows, rowOf, settings } from '../session/session'
import type { Check } from './check'

const MOST_NAMED = 6
const listed = (names: readonly string[]): string =>
  [...names.slice(0, MOST_NAMED), ...(names.length > MOST_NAMED ? ['…'] : [])].join(', ')

/** Tracks that have sound and no way out: an “unassign” that was forgotten. */
export const trackNowhere: Check = {
  id: 'trackNowhere',
  find(session, network) {
    const main = rows(session, 'channel').find(c => c.role === 'main')
    // What is printed is heard by its print; a print that stands by itself is a recording that is meant to go nowhere.
    const printed = new Set(
      rows(session, 'print').flatMap(p =>
        !p.takesOver ? [p.channel] : p.source && isHeardPrint(session, p) ? [p.source] : []
      )
    )
    const sounds = new Set([...rows(session, 'clip'), ...rows(session, 'phrase')].map(c => c.channel))
    const ids = rows(session, 'channel')
      .filter(c => c.kind === 'track' && !c.parked && sounds.has(c.id) && !printed.has(c.id))
      .filter(c => c.id !== settings(session).heardChannel && !(network.feedsFrom.get(c.id) ?? []).length)
      .map(c => c.id)
    if (!ids.length) return []
    const names = ids.map(id => `“${rowOf(session, 'channel', id).name}”`),
      only = ids.length === 1
    return [
      {
        sentence: only ? `${names[0]} goes nowhere.` : `${ids.length} tracks go nowhere: ${listed(names)}.`,
        about: ids,
        consequence: 'What is on it is not heard, and is in no print.',
        fixes: main
          ? [
              {
                label: `Feed ${only ? 'it' : 'them'} to ${main.name}`,
                edit: { verb: 'setMainFeed', args: { ids, to: main.id, feedIds: ids.map(id => `main-of-${id}`) } }
              },
              {
                label: `Park ${only ? 'it' : 'them'}`,
                edit: { verb: 'setChannels', args: { ids, fields: { parked: true } } }
              }
            ]
          : []
      }
    ]
  }
}

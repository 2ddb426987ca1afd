import { rows, settings } from '../session/session'
import type { Check } from './check'

/** A print that stands by itself, and its source, both on their way to what is heard. */
export const heardTwice: Check = {
  id: 'heardTwice',
  find(session, network) {
    const heard = settings(session).heardChannel
    if (!heard) return []
    const arrives = (id: string) => !session.channel[id].muted && !session.channel[id].parked
      && network.reach([id], at => network.next(at).filter(f => f.kind === 'main' && !f.muted).map(f => f.to!)).has(heard)
    return rows(session, 'print').filter(p => !p.takesOver && p.channel !== heard && session.channel[p.source] && arrives(p.channel) && arrives(p.source)).map(p => {
      const print = session.channel[p.channel].name, source = session.channel[p.source].name
      return {
        sentence: `“${source}” and its print “${print}” are both heard.`, about: [p.channel, p.source],
        consequence: 'The sound is doubled: twice as loud, and coloured where the two are not alike.',
        fixes: [
          { label: `Mute “${source}”`, edit: { verb: 'setChannels', args: { ids: [p.source], fields: { muted: true } } } },
          { label: `Mute “${print}”`, edit: { verb: 'setChannels', args: { ids: [p.channel], fields: { muted: true } } } }
        ]
      }
    })
  }
}

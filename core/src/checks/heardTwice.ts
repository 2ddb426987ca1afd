import { hasSource, isHeardPrint, rowOf, rows, settings } from '../session/session'
import type { Check } from './check'

/**
 * The same sound on two ways to what is heard: a print that stands by itself beside its source, two prints of one
 * source, or two main feeds that meet again.
 */
export const heardTwice: Check = {
  id: 'heardTwice',
  find(session, network) {
    const heard = settings(session).heardChannel
    if (!heard) return []
    const arrives = (id: string) =>
      !rowOf(session, 'channel', id).muted &&
      !rowOf(session, 'channel', id).parked &&
      network
        .reach([id], at =>
          network
            .next(at)
            .filter(f => f.kind === 'main' && !f.muted)
            .map(f => f.to)
        )
        .has(heard)
    const heardPrints = rows(session, 'print')
      .filter(hasSource)
      .filter(p => isHeardPrint(session, p))
    const prints = heardPrints
      .filter(
        p => !p.takesOver && p.channel !== heard && session.channel[p.source] && arrives(p.channel) && arrives(p.source)
      )
      .map(p => {
        const print = rowOf(session, 'channel', p.channel).name,
          source = rowOf(session, 'channel', p.source).name
        return {
          sentence: `“${source}” and its print “${print}” are both heard.`,
          about: [p.channel, p.source],
          consequence: 'The sound is doubled: twice as loud, and coloured where the two are not alike.',
          fixes: [
            {
              label: `Mute “${source}”`,
              edit: { verb: 'setChannels', args: { ids: [p.source], fields: { muted: true } } }
            },
            {
              label: `Mute “${print}”`,
              edit: { verb: 'setChannels', args: { ids: [p.channel], fields: { muted: true } } }
            }
          ]
        }
      })
    const sources = new Map<string, string[]>()
    for (const p of heardPrints)
      if (rowOf(session, 'channel', p.channel).listen !== 'feed' && arrives(p.channel))
        sources.set(p.source, [...(sources.get(p.source) ?? []), p.channel])
    const takes = [...sources]
      .filter(([, tracks]) => tracks.length > 1)
      .map(([source, tracks]) => ({
        sentence: `${tracks.length} prints of “${session.channel[source]?.name ?? 'a channel that was removed'}” are heard at once.`,
        about: tracks,
        consequence: 'The sound is there several times: louder, and coloured where they are not alike.',
        fixes: tracks.map(keep => ({
          label: `Hear only “${rowOf(session, 'channel', keep).name}”`,
          edit: { verb: 'setChannels', args: { ids: tracks.filter(id => id !== keep), fields: { muted: true } } }
        }))
      }))
    const mains = (id: string) => network.next(id).filter(f => f.kind === 'main' && !f.muted && f.levelDb !== null)
    const twice = rows(session, 'channel')
      .filter(c => !c.parked && !c.muted)
      .flatMap(c => {
        const out = mains(c.id)
        const short =
          out.length < 2
            ? undefined
            : out.find(f => out.some(o => o !== f && network.reach([o.to], at => mains(at).map(x => x.to)).has(f.to)))
        if (!short) return []
        const to = rowOf(session, 'channel', short.to).name,
          by = rowOf(session, 'channel', out.find(o => o !== short)!.to).name
        return [
          {
            sentence: `“${c.name}” arrives at “${to}” twice: directly, and through “${by}”.`,
            about: [c.id, short.to],
            consequence: 'The sound is doubled: twice as loud, and coloured where the two are not alike.',
            fixes: [
              { label: `Remove the direct feed to “${to}”`, edit: { verb: 'removeFeeds', args: { ids: [short.id] } } }
            ]
          }
        ]
      })
    return [...prints, ...takes, ...twice]
  }
}

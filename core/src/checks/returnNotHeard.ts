import { rowOf, rows, settings } from '../session/session'
import type { EditMessage } from '../session/editMessage'
import type { Check } from './check'

/** A return that is fed and leads on, but is closed at its own end, or leads elsewhere than to what is heard. */
export const returnNotHeard: Check = {
  id: 'returnNotHeard',
  find(session, network) {
    const { heardChannel: heard } = settings(session)
    return rows(session, 'channel')
      .filter(c => c.role === 'return' && !c.parked && c.id !== heard && network.feedsTo.has(c.id))
      .flatMap(c => {
        const out = (network.feedsFrom.get(c.id) ?? []).filter(
          f => f.kind === 'main' || f.kind === 'port' || f.kind === 'send'
        )
        if (!out.length) return []
        const closed = closing(c, out)
        const leads = !heard || network.reach([c.id], id => network.downstream(id)).has(heard)
        if (!closed && leads) return []
        return [
          {
            sentence: closed
              ? `Return “${c.name}” is not heard: ${closed.why}.`
              : `Return “${c.name}” does not lead to “${rowOf(session, 'channel', heard!).name}”, which is what is heard.`,
            about: [c.id],
            consequence: 'What is sent to it is computed and lost.',
            fixes: closed
              ? [{ label: closed.label, edit: closed.edit }]
              : [
                  {
                    label: `Feed it to “${rowOf(session, 'channel', heard!).name}”`,
                    edit: { verb: 'addMainFeed', args: { ids: [c.id], to: heard!, feedIds: [`heard-${c.id}`] } }
                  }
                ]
          }
        ]
      })
  }
}

function closing(
  c: { id: string; muted: boolean; levelDb: number | null },
  out: { id: string; kind: string; muted: boolean; levelDb: number | null }[]
): { why: string; label: string; edit: EditMessage } | null {
  if (c.muted)
    return {
      why: 'it is muted',
      label: 'Open it',
      edit: { verb: 'setChannels', args: { ids: [c.id], fields: { muted: false } } }
    }
  if (c.levelDb === null)
    return {
      why: 'its level is at −∞',
      label: 'Set it to 0 dB',
      edit: { verb: 'setChannels', args: { ids: [c.id], fields: { levelDb: 0 } } }
    }
  if (out.every(f => f.muted))
    return {
      why: 'its feed is muted',
      label: 'Open its feed',
      edit: { verb: 'setFeeds', args: { ids: out.map(f => f.id), fields: { muted: false } } }
    }
  if (out.every(f => f.levelDb === null))
    return {
      why: 'its feed is at −∞',
      label: 'Set its feed to 0 dB',
      edit: { verb: 'setFeeds', args: { ids: out.map(f => f.id), fields: { levelDb: 0 } } }
    }
  return null
}

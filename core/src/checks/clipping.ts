import { patchedCables } from '../graph/cables'
import { LOOP } from '../processors/table'
import { UNITS } from '../rig/units'
import { rowOf, rows, type Session } from '../session/session'
import type { EditMessage } from '../session/editMessage'
import type { Check } from './check'

const dB = (x: number) => x.toFixed(1)

/**
 * Clipping where it does harm: at ports out, in units, in files of whole numbers. Levels inside the session are
 * float and may be as high as they like. Ports and units are known once a range was played or rendered.
 */
export const clipping: Check = {
  id: 'clipping',
  find(session, network, seen) {
    const ports = rows(session, 'port')
      .filter(p => p.direction === 'out')
      .flatMap(p => {
        const over = seen.peaksDb.get(`port/${p.id}`) ?? -Infinity
        if (over <= 0) return []
        const feeds = network.feedsToPort.get(p.id) ?? []
        return [
          {
            sentence: `${p.name} clips: ${dB(over)} dB over full scale.`,
            about: [p.id, ...feeds.map(f => f.from)],
            consequence: 'The converter cuts the peaks off, and whatever is behind it gets them like that.',
            fixes: [
              {
                label: `Send ${dB(over + 0.1)} dB less to it`,
                edit: lessTo(
                  session,
                  p.id,
                  feeds.map(f => f.id),
                  over + 0.1
                )
              }
            ]
          }
        ]
      })
    const units = rows(session, 'unit').flatMap(u => {
      const limit = UNITS[u.model]?.clipDbu ?? Infinity,
        level = seen.peaksDb.get(`unit/${u.id}`) ?? -Infinity
      if (level <= limit) return []
      return [
        {
          sentence: `${u.name} is driven to ${dB(level)} dBu; it clips at ${dB(limit)}.`,
          about: [u.id],
          consequence: 'Its input stage cuts the peaks off.',
          fixes: loopsInto(session, u.id).map(l => ({
            label: `Lower the send of “${l.name}” by ${dB(level - limit)} dB`,
            edit: { verb: 'setLoop', args: { id: l.id, fields: { sendDb: (l.sendDb ?? 0) - (level - limit) } } }
          }))
        }
      ]
    })
    const files = rows(session, 'print').flatMap(p => {
      const medium = session.medium[session.clip[p.clip ?? '']?.medium ?? '']
      if (!medium || (medium.peakDb ?? -Infinity) <= 0) return []
      const source = session.channel[p.source ?? '']
      return [
        {
          sentence: `The print “${rowOf(session, 'channel', p.channel).name}” has peaks ${dB(medium.peakDb!)} dB over full scale.`,
          about: [p.channel, ...(source ? [source.id] : [])],
          consequence: 'As float it is whole; taken out as a 24-bit file it would clip.',
          fixes:
            !source || source.levelDb === null
              ? []
              : [
                  {
                    label: `Lower “${source.name}” by ${dB(medium.peakDb! + 0.1)} dB and print again`,
                    edit: {
                      verb: 'several',
                      args: {
                        label: `Lower “${source.name}” for its print`,
                        edits: [
                          {
                            verb: 'setChannels',
                            args: { ids: [p.source], fields: { levelDb: source.levelDb - medium.peakDb! - 0.1 } }
                          },
                          { verb: 'removeChannels', args: { ids: [p.channel] } }
                        ]
                      }
                    }
                  }
                ]
        }
      ]
    })
    return [...ports, ...units, ...files]
  }
}

function lessTo(session: Session, port: string, feeds: string[], byDb: number): EditMessage {
  const edits: EditMessage[] = feeds
    .filter(id => rowOf(session, 'feed', id).levelDb !== null)
    .map(id => ({
      verb: 'setFeeds',
      args: { ids: [id], fields: { levelDb: rowOf(session, 'feed', id).levelDb! - byDb } }
    }))
  for (const s of rows(session, 'slot').filter(s => s.processor === LOOP && s.loop)) {
    const loop = rowOf(session, 'loop', s.loop ?? '')
    if (loop.outPorts.includes(port) && loop.sendDb !== null)
      edits.push({ verb: 'setLoop', args: { id: loop.id, fields: { sendDb: loop.sendDb - byDb } } })
  }
  return { verb: 'several', args: { label: `${dB(byDb)} dB less to ${rowOf(session, 'port', port).name}`, edits } }
}

const loopsInto = (session: Session, unit: string) =>
  rows(session, 'loop').filter(
    l =>
      l.sendDb !== null &&
      patchedCables(session).some(c => c.toUnit === unit && c.fromPort !== null && l.outPorts.includes(c.fromPort))
  )

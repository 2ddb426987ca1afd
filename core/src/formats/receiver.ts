// The session for somebody who has neither the room nor every processor: what is printed is heard as printed, and what
// only the room could play is named.
import { applyEdit } from '../edits/apply'
import { onlyFor } from '../graph/onlyFor'
import { Network } from '../graph/network'
import { isPlaceholder, LOOP, slotLabel } from '../processors/table'
import type { EditMessage } from '../session/editMessage'
import type { Print } from '../session/rows'
import { byId, isHeardPrint, rowOf, rows, type Session } from '../session/session'

/** Beside: sources are parked and can be brought back. Instead: they, and the room, are left out. */
export type ReceiverForm = 'beside' | 'instead'

export interface Receiver {
  session: Session
  /** Prints that are heard in the place of what they were made from. */
  heard: string[]
  /** What cannot be played there, and where; each may be printed first. */
  lacks: { channel: string; text: string }[]
}

/** @returns the session as it goes to the receiver; the one that is given stays as it is */
export function receiverSession(session: Session, form: ReceiverForm): Receiver {
  const prints = rows(session, 'print')
    .filter(p => p.takesOver && p.source !== null && isHeardPrint(session, p))
    .sort(byId)
  const tracks = [...new Set(prints.map(p => p.channel))]
  let now = session
  const carryOut = (verb: string, args: EditMessage['args']) => {
    now = applyEdit(now, { verb, args }).session
  }
  if (tracks.length) carryOut('setChannels', { ids: tracks, fields: { listen: 'print', parked: false } })
  const sources = behind(now, prints)
  if (sources.length) carryOut('setChannels', { ids: sources, fields: { parked: true } })
  const lacks = lacking(now)
  if (form === 'instead') {
    const gone = rows(now, 'channel')
      .filter(c => c.parked && !tracks.includes(c.id))
      .map(c => c.id)
    if (gone.length) carryOut('removeChannels', { ids: gone })
    for (const slot of rows(now, 'slot')) if (slot.processor === LOOP) carryOut('removeSlot', { id: slot.id })
    const outside = rows(now, 'feed').filter(f => f.kind === 'port' || f.kind === 'input')
    if (outside.length) carryOut('removeFeeds', { ids: outside.map(f => f.id) })
    for (const rig of rows(now, 'rig')) carryOut('removeRig', { id: rig.id })
  }
  return { session: now, heard: tracks, lacks }
}

/** What prints stand for, where it leads nowhere else, and all that is heard through nothing but that. */
function behind(session: Session, prints: readonly Print[]): string[] {
  const network = new Network(session)
  const sources = prints.flatMap(p => (p.source !== null && session.channel[p.source] ? [p.source] : []))
  return [...onlyFor(network, sources)].sort()
}

function lacking(session: Session): Receiver['lacks'] {
  const name = (id: string) => `“${rowOf(session, 'channel', id).name}”`
  const isHeard = (id: string) => !session.channel[id]?.parked
  return [
    ...rows(session, 'slot')
      .filter(s => s.state === 'on' && isHeard(s.channel) && (s.processor === LOOP || isPlaceholder(s.processor)))
      .map(s => ({
        channel: s.channel,
        text:
          s.processor === LOOP
            ? `${name(s.channel)} goes through “${session.loop[s.loop ?? '']?.name ?? 'a loop'}”`
            : `${name(s.channel)} holds “${slotLabel(s.processor)}”, which is not here`
      })),
    ...rows(session, 'feed').flatMap(f =>
      f.kind === 'input' && !f.muted && isHeard(f.to)
        ? [
            {
              channel: f.to,
              text: `${name(f.to)} listens to ${f.ports.map(p => session.port[p]?.name ?? p).join(' and ')}`
            }
          ]
        : []
    )
  ]
}

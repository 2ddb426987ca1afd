import { isPlaceholder } from '../processors/table'
import type { Print } from '../session/rows'
import { rowOf, rows, type Session } from '../session/session'
import type { Check } from './check'

/** Prints of what comes after the slots of a channel. */
const printsOf = (session: Session, channel: string) =>
  rows(session, 'print').filter(p => p.source === channel && p.takesOver && p.tap !== 'input')

const standsNow = (session: Session, { channel }: Print): boolean => {
  const { parked, listen } = rowOf(session, 'channel', channel)
  return !parked && listen !== 'feed'
}

export const missingProcessor: Check = {
  id: 'missingProcessor',
  find: session =>
    rows(session, 'slot')
      .filter(s => isPlaceholder(s.processor))
      // Where a print is heard in its place, nobody misses it.
      .filter(s => !printsOf(session, s.channel).some(p => standsNow(session, p)))
      .map(s => ({
        sentence: `“${s.processor}” on “${rowOf(session, 'channel', s.channel).name}” is not here.`,
        about: [s.channel],
        consequence: 'Audio passes it untouched; its settings are kept.',
        fixes: printsOf(session, s.channel).map(p => ({
          label: `Hear its print “${rowOf(session, 'channel', p.channel).name}”`,
          edit: { verb: 'setChannels', args: { ids: [p.channel], fields: { listen: 'print', parked: false } } }
        }))
      }))
}

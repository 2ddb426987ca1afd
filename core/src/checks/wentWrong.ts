import { faultText } from '../print/faults'
import { isHeardPrint, rowOf, rows, settings } from '../session/session'
import type { Check } from './check'

/** A print that is heard, though something went wrong while its pass ran. */
export const wentWrong: Check = {
  id: 'wentWrong',
  find: session =>
    rows(session, 'print')
      .filter(p => p.faults.length && session.clip[p.clip ?? ''] && isHeardPrint(session, p))
      .map(({ id, channel, faults }) => {
        const { name } = rowOf(session, 'channel', channel),
          [first] = faults
        const more = faults.length > 1 ? `, and ${faults.length - 1} more` : ''
        return {
          sentence: `The print “${name}” went wrong: ${faultText(first!, settings(session).sampleRate)}${more}.`,
          about: [channel],
          consequence: 'It is heard like that until these bars are run again, in Passes.',
          fixes: [{ label: 'Keep it as it is', edit: { verb: 'acceptFaults', args: { id } } }]
        }
      })
}

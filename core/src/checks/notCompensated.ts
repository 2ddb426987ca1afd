import { rowOf, rows } from '../session/session'
import type { Check } from './check'

/** Loops in use whose compensation is switched off. */
export const notCompensated: Check = {
  id: 'notCompensated',
  find: session =>
    rows(session, 'slot')
      .filter(s => s.loop && s.state === 'on' && !rowOf(session, 'loop', s.loop).compensated)
      .map(s => {
        const loop = rowOf(session, 'loop', s.loop ?? '')
        return {
          sentence: `Loop “${loop.name}” on “${rowOf(session, 'channel', s.channel).name}” is not compensated.`,
          about: [s.channel, loop.id],
          consequence: 'Its return is late against everything it meets.',
          fixes: [
            { label: 'Compensate it', edit: { verb: 'setLoop', args: { id: loop.id, fields: { compensated: true } } } }
          ]
        }
      })
}

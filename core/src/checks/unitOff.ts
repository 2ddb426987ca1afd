import { deadPoint } from '../graph/deadLoop'
import { useOf, userNames, usersOf } from '../graph/holder'
import { rows } from '../session/session'
import type { Check } from './check'

/**
 * A loop in use (in a slot, or between port feeds and input feeds) whose signal ends: a unit that is off, a switch, a
 * clock, a cable that is missing.
 */
export const unitOff: Check = {
  id: 'unitOff',
  find: session =>
    rows(session, 'loop').flatMap(loop => {
      const use = useOf(session, loop),
        users = usersOf(session, use)
      const dead = users.length ? deadPoint(session, loop) : null
      if (!dead) return []
      return [
        {
          sentence: `Loop “${loop.name}” on ${userNames(session, users)}: ${dead.reason}.`,
          about: [...users, loop.id, ...dead.about],
          consequence: use.slot
            ? 'The slot returns silence; prints through it are marked.'
            : 'What listens to its return hears silence; prints through it are marked.',
          fixes: [
            ...dead.fixes,
            ...(use.slot
              ? [
                  {
                    label: 'Bypass the slot',
                    edit: { verb: 'setSlot', args: { id: use.slot.id, fields: { state: 'bypassed' } } }
                  }
                ]
              : [])
          ]
        }
      ]
    })
}

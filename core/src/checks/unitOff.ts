import { whyNothing } from '../graph/deadLoop'
import { LOOP } from '../processors/table'
import { UNITS } from '../rig/units'
import { rowOf, rows } from '../session/session'
import type { Check } from './check'

/** A loop in use whose signal ends at a unit that is off, or at a cable that is missing. */
export const unitOff: Check = {
  id: 'unitOff',
  find: session =>
    rows(session, 'slot')
      .filter(s => s.processor === LOOP && s.loop && s.state === 'on')
      .flatMap(slot => {
        const loop = rowOf(session, 'loop', slot.loop ?? '')
        const reason = whyNothing(session, loop)
        if (!reason.startsWith('nothing came back:')) return []
        const off = rows(session, 'unit').find(u => !u.powered && !UNITS[u.model]?.passive && reason.includes(u.name))
        return [
          {
            sentence: `Loop “${loop.name}” on “${rowOf(session, 'channel', slot.channel).name}”: ${reason.replace('nothing came back: ', '')}.`,
            about: [slot.channel, loop.id, ...(off ? [off.id] : [])],
            consequence: 'The slot returns silence; prints through it are marked.',
            fixes: [
              ...(off
                ? [
                    {
                      label: `Switch ${off.name} on`,
                      edit: { verb: 'setUnit', args: { id: off.id, fields: { powered: true } } }
                    }
                  ]
                : []),
              {
                label: 'Bypass the slot',
                edit: { verb: 'setSlot', args: { id: slot.id, fields: { state: 'bypassed' } } }
              }
            ]
          }
        ]
      })
}

import { unitSettings } from '../rig/unit'
import { UNITS } from '../rig/units'
import { settings, rows, type Session } from '../session/session'
import type { Unit } from '../session/rows'
import type { Check } from './check'

export interface Turned {
  name: string
  label: string
  was: unknown
  is: unknown
}

/** Switches of a unit that were turned for something and do not stand where they stood. */
export function turnedSwitches(unit: Unit): Turned[] {
  const model = UNITS[unit.model]
  if (!model) return []
  const now = unitSettings(model, unit.settings)
  return model.settings.flatMap(({ name, label }) =>
    name in unit.putBack && unit.putBack[name] !== now[name]
      ? [{ name, label, was: unit.putBack[name], is: now[name] }]
      : []
  )
}

/** A switch that was turned for re-amping and that nobody has turned back. */
export const putBack: Check = {
  id: 'putBack',
  find: (session: Session) =>
    rows(session, 'unit')
      .filter(u => [null, u.rig].includes(settings(session).rig))
      .flatMap(unit => {
        const turned = turnedSwitches(unit)
        if (!turned.length) return []
        const set = (label: string, fields: object) => ({
          label,
          edit: { verb: 'setUnit', args: { id: unit.id, fields: { putBack: {}, ...fields } } }
        })
        return [
          {
            sentence: turned
              .map(t => `${t.label} of ${unit.name} stands at ${t.is}; before it was ${t.was}.`)
              .join(' '),
            about: [unit.id],
            consequence: 'It was turned for a re-amp. Who comes next finds the unit silent, or with the wrong source.',
            fixes: [
              set('Put it back', { settings: Object.fromEntries(turned.map(t => [t.name, t.was])) }),
              set('Leave it so', {})
            ]
          }
        ]
      })
}

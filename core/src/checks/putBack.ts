import { unitSettings } from '../rig/unit'
import { UNITS } from '../rig/units'
import type { EditMessage } from '../session/editMessage'
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

/** Puts them back, or leaves them as they stand; either way nothing is asked any more. */
export const settled = (unit: Unit, back: readonly Turned[]): EditMessage => ({
  verb: 'setUnit',
  args: {
    id: unit.id,
    fields: { putBack: {}, ...(back.length && { settings: Object.fromEntries(back.map(t => [t.name, t.was])) }) }
  }
})

/** A switch that was turned for re-amping and that nobody has turned back. */
export const putBack: Check = {
  id: 'putBack',
  find: (session: Session) =>
    rows(session, 'unit')
      .filter(u => [null, u.rig].includes(settings(session).rig))
      .flatMap(unit => {
        const turned = turnedSwitches(unit)
        if (!turned.length) return []
        return [
          {
            sentence: turned
              .map(t => `${t.label} of ${unit.name} stands at ${t.is}; before it was ${t.was}.`)
              .join(' '),
            about: [unit.id],
            consequence: 'It was turned for a re-amp. Who comes next finds the unit silent, or with the wrong source.',
            fixes: [
              { label: 'Put it back', edit: settled(unit, turned) },
              { label: 'Leave it so', edit: settled(unit, []) }
            ]
          }
        ]
      })
}

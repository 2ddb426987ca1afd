import { z } from 'zod'
import { checkParams } from '../processors/processor'
import { Params, UnitRow } from '../session/rows'
import { UNITS } from '../rig/units'
import { Refusal } from '../refusal'
import { defineEdit, need } from './edit'

/** Adds a unit (with `rig` and `model`) or turns its power, switches and knobs. */
export const setUnit = defineEdit({
  verb: 'setUnit',
  args: z.object({
    id: z.string(), rig: z.string().optional(),
    fields: z.object({ name: z.string(), model: z.string(), order: z.string(), powered: z.boolean(), settings: Params }).partial()
  }),
  label: (s, a) => a.rig ? `New unit “${a.fields.name}”`
    : a.fields.powered !== undefined ? `${s.unit[a.id]?.name} ${a.fields.powered ? 'on' : 'off'}` : `Setting of ${s.unit[a.id]?.name}`,
  apply(draft, { id, rig, fields }) {
    const before = rig ? { id, rig: need(draft, 'rig', rig).id, settings: {} } : need(draft, 'unit', id)
    const unit = UnitRow.parse({ ...before, ...fields, settings: { ...before.settings, ...fields.settings } })
    const model = UNITS[unit.model]
    if (!model) throw new Refusal('badArguments', `There is no unit of the kind “${unit.model}”`, [id])
    checkParams(model.label, model.settings, unit.settings)
    draft.unit[id] = unit
  }
})

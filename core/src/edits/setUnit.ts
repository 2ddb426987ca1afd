import { z } from 'zod'
import { Params, UnitRow } from '../session/rows'
import { defineEdit, need, put } from './edit'

/** Adds a unit (with `rig` and `model`) or turns its power, switches and knobs. */
export const setUnit = defineEdit({
  verb: 'setUnit',
  args: z.object({
    id: z.string(),
    rig: z.string().optional(),
    fields: z
      .object({ name: z.string(), model: z.string(), order: z.string(), powered: z.boolean(), settings: Params })
      .partial()
  }),
  label: (s, a) =>
    a.rig
      ? `New unit “${a.fields.name}”`
      : a.fields.powered !== undefined
        ? `${s.unit[a.id]?.name} ${a.fields.powered ? 'on' : 'off'}`
        : `Setting of ${s.unit[a.id]?.name}`,
  apply(draft, { id, rig, fields }) {
    if (rig) {
      put(draft, 'unit', { id, rig: need(draft, 'rig', rig).id, ...fields })
      return
    }
    const before = need(draft, 'unit', id)
    draft.unit[id] = UnitRow.parse({ ...before, ...fields, settings: { ...before.settings, ...fields.settings } })
  }
})

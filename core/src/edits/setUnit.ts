import { z } from 'zod'
import { MOST_PHOTOS, MOST_PRESETS, Params, Photo, Preset, UnitRow } from '../session/rows'
import { defineEdit, need, put } from './edit'

type Fields = {
  powered?: boolean
  plays?: string | null
  presets?: readonly unknown[]
  putBack?: object
  inverts?: boolean
  notes?: string
  photos?: readonly unknown[]
  settings?: object
}
/** What a step is called by the first of these that it sets. */
const SAID: readonly [keyof Fields, (name: string | undefined, fields: Fields) => string][] = [
  ['powered', (name, { powered }) => `${name} ${powered ? 'on' : 'off'}`],
  ['putBack', (name, { settings }) => (settings ? `Switches of ${name} put back` : `Switches of ${name} stay`)],
  ['plays', name => `What ${name} plays`],
  ['presets', name => `Presets of ${name}`],
  ['inverts', (name, { inverts }) => `${name} ${inverts ? 'turns polarity' : 'keeps polarity'}`],
  ['notes', name => `Notes of ${name}`],
  ['photos', name => `Photographs of ${name}`]
]

/** Adds a unit (with `rig` and `model`) or turns its power, switches and knobs. */
export const setUnit = defineEdit({
  verb: 'setUnit',
  args: z.object({
    id: z.string(),
    rig: z.string().optional(),
    fields: z
      .object({
        name: z.string(),
        model: z.string(),
        order: z.string(),
        powered: z.boolean(),
        settings: Params,
        plays: z.string().nullable(),
        presets: z.array(Preset).max(MOST_PRESETS),
        putBack: Params,
        inverts: z.boolean(),
        notes: z.string(),
        photos: z.array(Photo).max(MOST_PHOTOS)
      })
      .partial()
  }),
  label(s, { id, rig, fields }) {
    if (rig) return `New unit “${fields.name}”`
    const name = s.unit[id]?.name
    const said = SAID.find(([field]) => fields[field] !== undefined)?.[1]
    return said ? said(name, fields) : `Setting of ${name}`
  },
  apply(draft, { id, rig, fields }) {
    if (rig) {
      put(draft, 'unit', { id, rig: need(draft, 'rig', rig).id, ...fields })
      return
    }
    const before = need(draft, 'unit', id)
    draft.unit[id] = UnitRow.parse({ ...before, ...fields, settings: { ...before.settings, ...fields.settings } })
  }
})

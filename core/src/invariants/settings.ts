// Settings of slots and units are known and in range; what we lack keeps its settings untouched.
import { paramFault, type Parameter } from '../processors/processor'
import { PROCESSORS } from '../processors/table'
import { UNITS } from '../rig/units'
import type { Params, Slot } from '../session/rows'
import type { Session } from '../session/session'
import { ruleOfRows, type Breach } from './rule'

export const slotWords = (session: Session, slot: Slot) =>
  `${PROCESSORS[slot.processor]?.label ?? slot.processor} on “${session.channel[slot.channel]?.name ?? slot.channel}”`

/** Settings with those that do not fit brought to the edge of their range, or left out. */
function settled(parameters: readonly Parameter[], params: Params): { params: Params; notes: string[] } {
  const next: Params = {},
    notes: string[] = []
  for (const [name, value] of Object.entries(params)) {
    const p = parameters.find(p => p.name === name)
    if (!p) {
      notes.push(`the setting “${name}” is not known and was left out`)
      continue
    }
    const held =
      paramFault(parameters, { [name]: value }) === null
        ? value
        : p.choices || typeof value !== 'number'
          ? p.initial
          : Math.max(p.min!, Math.min(p.max!, value))
    if (held !== value) notes.push(`${p.label} was ${p.choices ? `“${value}”` : value}, now ${held}`)
    next[name] = held
  }
  return { params: next, notes }
}

export const slotSettings = ruleOfRows({
  says: 'settings of slots are known and in range',
  table: 'slot',
  gentle: true,
  depends: { slot: ['processor', 'params'] },
  fault(session, slot): Breach | null {
    const processor = PROCESSORS[slot.processor]
    const fault = processor && paramFault(processor.parameters, slot.params)
    return fault ? { kind: 'badArguments', about: [slot.id], message: `${slotWords(session, slot)}: ${fault}` } : null
  },
  mend(session, slot) {
    const { params, notes } = settled(PROCESSORS[slot.processor]!.parameters, slot.params)
    return { row: { ...slot, params }, notes: notes.map(n => `${slotWords(session, slot)}: ${n}`) }
  }
})

export const unitSettings = ruleOfRows({
  says: 'units are of a kind known here, and their settings in range',
  table: 'unit',
  depends: { unit: ['model', 'settings'] },
  fault(_, unit): Breach | null {
    const model = UNITS[unit.model]
    const fault = model ? paramFault(model.settings, unit.settings) : `there is no unit of the kind “${unit.model}”`
    return fault
      ? { kind: 'badArguments', about: [unit.id], message: `${model?.label ?? 'Unit'} “${unit.name}”: ${fault}` }
      : null
  },
  mend(_, unit) {
    const model = UNITS[unit.model]
    if (!model)
      return {
        row: { ...unit, model: 'wire', settings: {} },
        notes: [`The unit “${unit.name}” was of the kind “${unit.model}”, which is not known, and is a wire now`]
      }
    const { params, notes } = settled(model.settings, unit.settings)
    return { row: { ...unit, settings: params }, notes: notes.map(n => `${model.label} “${unit.name}”: ${n}`) }
  }
})

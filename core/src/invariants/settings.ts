// Settings of slots and units are known and in range; what we lack keeps its settings untouched.
import { LONGEST_RESPONSE_S } from '../processors/convolution'
import { paramFault, type Parameter } from '../processors/processor'
import { PROCESSORS } from '../processors/table'
import { RESPONSES } from '../processors/responses'
import { UNITS } from '../rig/units'
import type { Params, Slot } from '../session/rows'
import { settings as settingsOf, type Session } from '../session/session'
import { ruleOfRows, type Breach } from './rule'

const slotWords = (session: Session, slot: Slot) => `${PROCESSORS[slot.processor]?.label ?? slot.processor} on “${session.channel[slot.channel]?.name ?? slot.channel}”`

/** An impulse response that is named is there, and short enough to be one. */
function responseFault(session: Session, slot: Slot): string | null {
  const id = slot.params.response
  if (typeof id !== 'string' || RESPONSES[id] || !takesMedium(slot)) return null
  const medium = session.medium[id], rate = settingsOf(session).sampleRate
  if (!medium) return `there is no impulse response “${id}” in this session`
  // A package may be written by hand: how long its audio is is known once the file has been read.
  if (medium.frames <= LONGEST_RESPONSE_S * rate) return null
  return `“${medium.name}” is ${(medium.frames / rate).toFixed(1)} s long; an impulse response has between one sample and ${LONGEST_RESPONSE_S} s`
}

const takesMedium = (slot: Slot) => PROCESSORS[slot.processor]?.parameters.some(p => p.name === 'response' && p.medium)

/** Settings with those that do not fit brought to the edge of their range, or left out. */
function settled(parameters: readonly Parameter[], params: Params): { params: Params, notes: string[] } {
  const next: Params = {}, notes: string[] = []
  for (const [name, value] of Object.entries(params)) {
    const p = parameters.find(p => p.name === name)
    if (!p) { notes.push(`the setting “${name}” is not known and was left out`); continue }
    const held = paramFault(parameters, { [name]: value }) === null ? value
      : p.choices || typeof value !== 'number' ? p.initial : Math.max(p.min!, Math.min(p.max!, value))
    if (held !== value) notes.push(`${p.label} was ${p.choices ? `“${value}”` : value}, now ${held}`)
    next[name] = held
  }
  return { params: next, notes }
}

export const slotSettings = ruleOfRows({
  says: 'settings of slots are known and in range',
  table: 'slot', gentle: true,
  depends: { slot: ['processor', 'params'], medium: ['frames'] },
  fault(session, slot): Breach | null {
    const processor = PROCESSORS[slot.processor]
    const fault = processor && (paramFault(processor.parameters, slot.params) ?? responseFault(session, slot))
    const medium = typeof slot.params.response === 'string' ? [slot.params.response] : []
    return fault ? { kind: session.medium[medium[0] ?? ''] || !fault.startsWith('there is no') ? 'badArguments' : 'notFound', about: [slot.id, ...medium], message: `${slotWords(session, slot)}: ${fault}` } : null
  },
  mend(session, slot) {
    const { params, notes } = settled(PROCESSORS[slot.processor]!.parameters, slot.params)
    const row = { ...slot, params }
    const missing = responseFault(session, row)
    if (missing) { delete params.response; notes.push(`${missing}; its own first one is used`) }
    return { row, notes: notes.map(n => `${slotWords(session, slot)}: ${n}`) }
  }
})

export const unitSettings = ruleOfRows({
  says: 'units are of a kind known here, and their settings in range',
  table: 'unit',
  depends: { unit: ['model', 'settings'] },
  fault(_, unit): Breach | null {
    const model = UNITS[unit.model]
    const fault = model ? paramFault(model.settings, unit.settings) : `there is no unit of the kind “${unit.model}”`
    return fault ? { kind: 'badArguments', about: [unit.id], message: `${model?.label ?? 'Unit'} “${unit.name}”: ${fault}` } : null
  },
  mend(_, unit) {
    const model = UNITS[unit.model]
    if (!model) return { row: { ...unit, model: 'wire', settings: {} }, notes: [`The unit “${unit.name}” was of the kind “${unit.model}”, which is not known, and is a wire now`] }
    const { params, notes } = settled(model.settings, unit.settings)
    return { row: { ...unit, settings: params }, notes: notes.map(n => `${model.label} “${unit.name}”: ${n}`) }
  }
})

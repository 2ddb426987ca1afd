// Asks for a number: with units and sums, its range named, and what cannot be read said beside the field.
import { MINUS } from '~/words/format'
import { numberFault, readNumber, type Range } from '~/words/number'
import { useAsk } from './ask'

export interface NumberQuestion extends Range {
  title: string
  initial?: number | null
  act?: string
  placeholder?: string
}

const shown = (v: number | null | undefined): string =>
  v === undefined ? '' : v === null ? `${MINUS}∞` : String(v).replace('-', MINUS)

/** What the range is, for a field that is empty: “−60 to 12 dB, or −∞”. */
function rangeText({ unit = '', min, max, silence }: Range): string {
  const range = min !== undefined && max !== undefined ? `${shown(min)} to ${shown(max)} ${unit}`.trim() : unit
  return silence ? `${range || 'dB'}, or ${MINUS}∞` : range
}

/** The number in the question's unit, null for −∞; undefined when nothing was typed. */
export async function askNumber(question: NumberQuestion): Promise<number | null | undefined> {
  const text = await useAsk().ask({
    title: question.title,
    kind: 'text',
    act: question.act,
    initial: shown(question.initial),
    placeholder: question.placeholder ?? rangeText(question),
    note: question.placeholder ? undefined : rangeText(question) || undefined,
    fault: numberFault(question)
  })
  if (text === null) return undefined
  const read = readNumber(text, question)
  return 'value' in read ? read.value : undefined
}

// Asks for a number: with units and sums, its range named, and what cannot be read said beside the field.
import { rangeText, read, typed, type Quantity } from '~/numbers/quantity'
import { useAsk } from './ask'

export interface NumberQuestion extends Quantity {
  /** What it is now; nothing stands in the field when left out. */
  value?: number | null
  act?: string
  placeholder?: string
}

/** The number in the question's unit, null for −∞; undefined when nothing was typed. */
export async function askNumber(question: NumberQuestion): Promise<number | null | undefined> {
  const range = rangeText(question)
  const text = await useAsk().ask({
    title: question.label,
    kind: 'text',
    act: question.act,
    initial: question.value === undefined ? '' : typed(question, question.value),
    placeholder: question.placeholder ?? range,
    note: question.placeholder ? undefined : range || undefined,
    fault: answer => {
      const got = read(question, answer)
      return 'fault' in got ? got.fault : null
    }
  })
  if (text === null) return undefined
  const got = read(question, text)
  return 'value' in got ? got.value : undefined
}

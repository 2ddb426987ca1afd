// Asks for one thing: a name, a number or a choice from a list that is filtered by typing.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

export interface Choice {
  value: string
  label: string
  hint?: string
  /** A colour to show beside it. */ hue?: number
  /** Why it cannot be chosen. */ refused?: string
}
export interface Question {
  title: string
  kind: 'text' | 'choice'
  initial?: string
  placeholder?: string
  choices?: Choice[]
  note?: string
  /** What the button does, for a text that is typed. */ act?: string
  /** Why a typed text cannot be taken; null when it can. */ fault?(text: string): string | null
  /** What the text would lead to. */ preview?(text: string): string
}

export const useAsk = defineStore('ask', () => {
  const question = shallowRef<Question | null>(null)
  let answer: ((value: string | null) => void) | null = null

  /** The answer, or null when it was left. */
  function ask(q: Question): Promise<string | null> {
    answer?.(null)
    question.value = q
    return new Promise(done => {
      answer = done
    })
  }

  function close(value: string | null): void {
    question.value = null
    answer?.(value)
    answer = null
  }

  return { question, ask, close }
})

// Short messages about what happened: what, to which object, what was kept.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { Refusal } from '@nullet/core/foundation/refusal'
import { Failed } from './api'

export interface Notice {
  id: number
  tone: 'told' | 'wrong'
  message: string
  kept?: string
  action?: { label: string; run(): void }
}

const SHOWN_MS = { told: 6000, wrong: 14000 }

export const useNotices = defineStore('notices', () => {
  const list = shallowRef<Notice[]>([])
  let serial = 0

  function add(notice: Omit<Notice, 'id'>): void {
    const id = ++serial
    list.value = [...list.value.slice(-3), { ...notice, id }]
    setTimeout(() => dismiss(id), SHOWN_MS[notice.tone])
  }
  const dismiss = (id: number) => {
    list.value = list.value.filter(n => n.id !== id)
  }
  const tell = (message: string, action?: Notice['action']) => add({ tone: 'told', message, action })
  /** @param of the gesture that came to nothing, where it is not the one just made */
  function wrong(error: unknown, action?: Notice['action'], of = ''): void {
    const said =
      error instanceof Refusal
        ? { message: error.message, kept: error.kept }
        : error instanceof Failed
          ? { message: error.problem.message, kept: error.problem.kept }
          : { message: (error as Error).message ?? String(error) }
    add({ tone: 'wrong', action, ...said, message: of ? `${of}: ${said.message}` : said.message })
  }
  return { list, tell, wrong, dismiss }
})

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
  /** How often the same was said while it stood there. */
  times: number
  action?: { label: string; run(): void }
}

/** What went wrong stays until it was seen; the rest goes by itself. */
const TOLD_MS = 6000
const MOST_SHOWN = 4

export const useNotices = defineStore('notices', () => {
  const list = shallowRef<Notice[]>([])
  let serial = 0

  function add(notice: Omit<Notice, 'id' | 'times'>): void {
    const id = ++serial
    const isSame = (n: Notice) =>
      n.tone === notice.tone && n.message === notice.message && n.action?.label === notice.action?.label
    const times = 1 + (list.value.find(isSame)?.times ?? 0)
    list.value = [...list.value.filter(n => !isSame(n)).slice(1 - MOST_SHOWN), { ...notice, id, times }]
    if (notice.tone === 'told') setTimeout(() => dismiss(id), TOLD_MS)
  }
  const dismiss = (id: number) => {
    list.value = list.value.filter(n => n.id !== id)
  }
  const dismissNewest = () => {
    list.value = list.value.slice(0, -1)
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
  return { list, tell, wrong, dismiss, dismissNewest }
})

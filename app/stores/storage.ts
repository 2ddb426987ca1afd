// Room for audio: what this session keeps, what a budget leaves of it, and what the disk has left.
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import { goEdit, heldAudio, printedBytes, toGo, type HeldAudio } from '@nullet/core/print/storage'
import { plural, size } from '~/words/format'
import { api } from './api'
import { useNotices } from './notices'
import { useSession } from './session'

const GB = 1e9
const KEY = 'nullet print budget'

export const useStorage = defineStore('storage', () => {
  const store = useSession(),
    notices = useNotices()
  /** Bytes on the disk of the database; null where nobody knows. */
  const freeBytes = ref<number | null>(null)
  /** In GB, for the prints of a session; null: as much as there is room for. */
  const budgetGb = ref<number | null>(Number(localStorage.getItem(KEY)) || null)
  watch(budgetGb, gb => localStorage.setItem(KEY, gb === null ? '' : String(gb)))

  const held = computed(() => (store.session ? heldAudio(store.session) : []))
  const bytes = computed(() => printedBytes(held.value))
  const isOver = computed(() => budgetGb.value !== null && bytes.value > budgetGb.value * GB)
  const mayGo = computed(() => toGo(store.session!, held.value, budgetGb.value === null ? 0 : budgetGb.value * GB))

  async function look(): Promise<void> {
    const answer = await api<{ freeBytes: number | null }>('/api/room').catch(() => null)
    if (answer) freeBytes.value = answer.freeBytes
  }
  function remove(gone: readonly HeldAudio[]): void {
    const { verb, args } = goEdit(store.session!, gone)
    if (!store.apply(verb, args)) return
    const amount = size(gone.reduce((sum, h) => sum + h.bytes, 0))
    notices.tell(
      `${gone.length === 1 ? `“${gone[0]!.medium.name}” is` : `${plural(gone.length, 'print', 'prints')} that are not heard are`} removed, ${amount}.`,
      store.thisUndo()
    )
  }

  return { freeBytes, budgetGb, held, bytes, isOver, mayGo, look, remove }
})

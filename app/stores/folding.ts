// Which bundles of the Map are folded: kept in this browser, session by session.
import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'
import { useSession } from './session'

const keyOf = (session: string) => `nullet folded ${session}`
const stored = (session: string) => new Set(JSON.parse(localStorage.getItem(keyOf(session)) ?? '[]') as string[])

export const useFolding = defineStore('folding', () => {
  const store = useSession()
  /** Buses whose bundle is folded. */
  const folded = shallowRef<ReadonlySet<string>>(stored(store.id))
  watch(
    () => store.id,
    id => {
      folded.value = stored(id)
    }
  )
  const goalOf = (id: string) => store.network?.next(id).find(f => f.kind === 'main')?.to
  /** Buses that two tracks or more feed. */
  const foldable = computed(() => {
    const counts = new Map<string, number>()
    for (const c of Object.values(store.session?.channel ?? {})) {
      const to = c.kind === 'track' ? goalOf(c.id) : undefined
      if (to) counts.set(to, (counts.get(to) ?? 0) + 1)
    }
    return [...counts].filter(([, n]) => n > 1).map(([to]) => to)
  })
  const isAllFolded = computed(() => foldable.value.every(to => folded.value.has(to)))

  function set(next: ReadonlySet<string>): void {
    folded.value = next
    localStorage.setItem(keyOf(store.id), JSON.stringify([...next]))
  }
  function toggle(to: string): void {
    const next = new Set(folded.value)
    if (!next.delete(to)) next.add(to)
    set(next)
  }
  const toggleAll = () => set(isAllFolded.value ? new Set() : new Set(foldable.value))
  /** The bundles that these tracks are in. */
  const toggleOf = (ids: readonly string[]) =>
    new Set(ids.map(goalOf).filter(to => to !== undefined && foldable.value.includes(to))).forEach(to => toggle(to!))

  return { folded, foldable, isAllFolded, toggle, toggleAll, toggleOf }
})

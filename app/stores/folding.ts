// Which bundles of the Map are folded, and whether print tracks are hidden: kept in this browser, session by session.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { useSelection } from './selection'
import { useSession } from './session'

const keyOf = (session: string) => `nullet folded ${session}`
const printsKeyOf = (session: string) => `nullet prints hidden ${session}`
const stored = (session: string) => new Set(JSON.parse(localStorage.getItem(keyOf(session)) ?? '[]') as string[])

export const useFolding = defineStore('folding', () => {
  const store = useSession(),
    selection = useSelection()
  /** Buses whose bundle is folded. */
  const folded = shallowRef<ReadonlySet<string>>(stored(store.id))
  const printsHidden = ref(localStorage.getItem(printsKeyOf(store.id)) === '1')
  watch(
    () => store.id,
    id => {
      folded.value = stored(id)
      printsHidden.value = localStorage.getItem(printsKeyOf(id)) === '1'
    }
  )
  const goalOf = (id: string) => store.wiring?.next(id).find(f => f.kind === 'main')?.to
  /** Buses that two tracks or more feed. */
  const foldable = computed(() => {
    const counts = new Map<string, number>()
    for (const c of Object.values(store.wiring?.session.channel ?? {})) {
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

  /** Prints by what they stand for: tracks whose source is there. */
  const printsOf = computed(() => {
    const out = new Map<string, string[]>()
    for (const [track, { source }] of store.wiring?.printOn ?? [])
      if (store.wiring?.session.channel[source]) out.set(source, [...(out.get(source) ?? []), track])
    return out
  })
  const prints = computed(() => [...printsOf.value.values()].flat())
  function togglePrints(): void {
    printsHidden.value = !printsHidden.value
    localStorage.setItem(printsKeyOf(store.id), printsHidden.value ? '1' : '')
  }
  /** What a filter found, or everything (null); prints only where they are looked for or selected. */
  function shown(found: ReadonlySet<string> | null): ReadonlySet<string> | null {
    if (found || !printsHidden.value || !prints.value.length) return found
    const hidden = new Set(prints.value.filter(id => !selection.ids.has(id)))
    return new Set(Object.keys(store.wiring!.session.channel).filter(id => !hidden.has(id)))
  }

  return {
    printsHidden,
    printsOf,
    prints,
    togglePrints,
    shown,
    folded,
    foldable,
    isAllFolded,
    toggle,
    toggleAll,
    toggleOf
  }
})

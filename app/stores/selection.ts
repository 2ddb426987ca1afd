// What is selected, what is opened, and the way back.
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { useSession } from './session'

export const useSelection = defineStore('selection', () => {
  const store = useSession()
  const ids = shallowRef<ReadonlySet<string>>(new Set())
  /** The last one that was pointed at: Path and Rail show it. */
  const focus = shallowRef<string | null>(null)
  const filter = shallowRef('')
  let anchor: string | null = null
  const past = shallowRef<string[]>([])
  const future = shallowRef<string[]>([])

  const list = computed(() => [...ids.value].filter(id => store.session?.channel[id]))
  const focused = computed(() => (focus.value && store.session?.channel[focus.value] ? focus.value : null))

  function set(next: Iterable<string>, at: string | null): void {
    ids.value = new Set(next)
    if (at !== focus.value) {
      if (focus.value) past.value = [...past.value.slice(-50), focus.value]
      future.value = []
    }
    focus.value = at
    anchor = at
  }

  /** A click: alone, adding, or a range in the order that is on screen. */
  function click(
    id: string,
    event: { shiftKey?: boolean; ctrlKey?: boolean; metaKey?: boolean },
    order: readonly string[]
  ): void {
    if (event.shiftKey && anchor) {
      const a = order.indexOf(anchor),
        b = order.indexOf(id)
      if (a >= 0 && b >= 0) {
        const keep = anchor
        set([...ids.value, ...order.slice(Math.min(a, b), Math.max(a, b) + 1)], id)
        anchor = keep
        return
      }
    }
    if (event.ctrlKey || event.metaKey) {
      const next = new Set(ids.value)
      if (!next.delete(id)) next.add(id)
      set(next, id)
    } else set([id], id)
  }

  const clear = () => set([], null)
  /** The focus alone, for a hand on the keyboard that selects here and there. */
  const moveFocus = (id: string) => set(ids.value, id)
  function go(from: typeof past, to: typeof future): void {
    const last = from.value.at(-1)
    if (!last) return
    from.value = from.value.slice(0, -1)
    if (focus.value) to.value = [...to.value, focus.value]
    focus.value = last
    ids.value = new Set([last])
  }

  /** A gesture on a selected strip acts on the selection, on another one on that alone. */
  const actOn = (id: string): string[] => (ids.value.has(id) ? list.value : [id])

  return {
    ids,
    list,
    focus,
    focused,
    filter,
    past,
    future,
    set,
    click,
    clear,
    moveFocus,
    actOn,
    back: () => go(past, future),
    forward: () => go(future, past)
  }
})

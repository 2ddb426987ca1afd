// What a view shows of the channels, in its order: Ctrl A selects it, wherever on the page the focus is.
import { onBeforeUnmount, onMounted } from 'vue'

type Shown = () => readonly string[]
let shown: Shown | null = null

/** @param list ids of what this view shows */
export function useShown(list: Shown): void {
  onMounted(() => (shown = list))
  onBeforeUnmount(() => {
    if (shown === list) shown = null
  })
}

/** @returns null where a view shows no channels */
export const allShown = (): readonly string[] | null => shown?.() ?? null

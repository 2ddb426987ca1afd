// The menu of verbs for what is pointed at: where it stands, and where the focus was before it.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

export const useMenu = defineStore('menu', () => {
  const at = shallowRef<{ x: number; y: number } | null>(null)
  let before: HTMLElement | null = null

  function open(x: number, y: number): void {
    before = document.activeElement as HTMLElement | null
    at.value = { x, y }
  }
  function close(): void {
    at.value = null
    if (before?.isConnected) before.focus({ preventScroll: true })
    before = null
  }
  return { at, open, close }
})

// What is open around the views: drawers, sheets, the first stroke of a command.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

export const useShell = defineStore('shell', () => {
  const checksOpen = shallowRef(false)
  const helpOpen = shallowRef(false)
  const commandsOpen = shallowRef(false)
  const networkAs = shallowRef<'map' | 'crosspoints'>('map')
  const pathOpen = shallowRef(localStorage.getItem('nullet path') !== 'folded')
  /** First stroke of a two-stroke command, waiting for the second. */
  const stroke = shallowRef('')
  /** The channel whose inside is shown under the Map. */
  const railOf = shallowRef<string | null>(null)
  /** The slot that is open in the Rail. */
  const openSlot = shallowRef<string | null>(null)
  /** Wanted prints of the next pass: `channel@tap`. */
  const toPrint = shallowRef<string[]>([])
  function togglePath(): void {
    pathOpen.value = !pathOpen.value
    localStorage.setItem('nullet path', pathOpen.value ? 'open' : 'folded')
  }
  return { networkAs, checksOpen, helpOpen, commandsOpen, pathOpen, togglePath, stroke, railOf, openSlot, toPrint }
})

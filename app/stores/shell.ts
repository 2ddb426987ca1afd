// What is open around the views: drawers, sheets, the first stroke of a command.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

/** What Path can be asked about the selected channel. */
export type PathQuestion = 'silent' | 'without' | 'share'

export const useShell = defineStore('shell', () => {
  const checksOpen = shallowRef(false)
  const historyOpen = shallowRef(false)
  const helpOpen = shallowRef(false)
  const commandsOpen = shallowRef(false)
  const networkAs = shallowRef<'map' | 'crosspoints' | 'cost'>('map')
  const passesAs = shallowRef<'prints' | 'time'>('prints')
  /** Compact strips are half as high. */
  const compact = shallowRef(localStorage.getItem('nullet strips') === 'compact')
  /** Does the view move to what is selected? */
  const follows = shallowRef(localStorage.getItem('nullet follows') !== 'no')
  /** Links do nothing while they are lifted. */
  const linksLifted = shallowRef(false)
  /** The sheet that is open, by its name in the table of sheets. */
  const sheet = shallowRef<string | null>(null)
  const pathOpen = shallowRef(localStorage.getItem('nullet path') !== 'folded')
  /** First stroke of a two-stroke command, waiting for the second. */
  const stroke = shallowRef('')
  /** The channel whose inside is shown under the Map. */
  const railOf = shallowRef<string | null>(null)
  /** The slot that is open in the Rail. */
  const openSlot = shallowRef<string | null>(null)
  /** The note track whose notes are open in the Rail. */
  const openNotes = shallowRef<string | null>(null)
  function togglePath(): void {
    pathOpen.value = !pathOpen.value
    localStorage.setItem('nullet path', pathOpen.value ? 'open' : 'folded')
  }
  /** A slot on its way from the Rail to a strip. */
  const draggedSlot = shallowRef<string | null>(null)
  const question = shallowRef<PathQuestion | null>(null)
  function askPath(which: PathQuestion): void {
    pathOpen.value = true
    question.value = which
  }
  function toggleCompact(): void {
    compact.value = !compact.value
    localStorage.setItem('nullet strips', compact.value ? 'compact' : 'wide')
  }
  function toggleFollows(): void {
    follows.value = !follows.value
    localStorage.setItem('nullet follows', follows.value ? 'yes' : 'no')
  }
  function toggleLifted(): void {
    linksLifted.value = !linksLifted.value
  }
  return {
    compact,
    toggleCompact,
    follows,
    toggleFollows,
    linksLifted,
    toggleLifted,
    sheet,
    question,
    askPath,
    draggedSlot,
    networkAs,
    passesAs,
    checksOpen,
    historyOpen,
    helpOpen,
    commandsOpen,
    pathOpen,
    togglePath,
    stroke,
    railOf,
    openSlot,
    openNotes
  }
})

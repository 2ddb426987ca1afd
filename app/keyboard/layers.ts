// What lies over the views, the topmost first. Escape closes the topmost thing and only that; commands do not reach
// through what covers the view.
import { useAsk } from '~/stores/ask'
import { useMenu } from '~/stores/menu'
import { useNotices } from '~/stores/notices'
import { useSelection } from '~/stores/selection'
import { useShell } from '~/stores/shell'

interface Layer {
  isOpen(): boolean
  close(): void
  /** Commands act on what is under it: they wait until it is gone. */
  covers: boolean
}

export function useLayers() {
  const ask = useAsk(),
    menu = useMenu(),
    notices = useNotices(),
    selection = useSelection(),
    shell = useShell()
  const shut = (name: 'sheet' | 'openSlot' | 'openNotes' | 'railOf') => ({
    isOpen: () => shell[name] !== null,
    close: () => {
      shell[name] = null
    }
  })
  const layers: Layer[] = [
    { isOpen: () => menu.at !== null, close: menu.close, covers: true },
    { isOpen: () => ask.question !== null, close: () => ask.close(null), covers: true },
    { ...shut('sheet'), covers: true },
    { isOpen: () => shell.helpOpen, close: () => (shell.helpOpen = false), covers: true },
    { isOpen: () => shell.historyOpen, close: () => (shell.historyOpen = false), covers: false },
    { isOpen: () => shell.checksOpen, close: () => (shell.checksOpen = false), covers: false },
    { isOpen: () => shell.stroke !== '', close: () => (shell.stroke = ''), covers: false },
    { ...shut('openSlot'), covers: false },
    { ...shut('openNotes'), covers: false },
    { ...shut('railOf'), covers: false },
    { isOpen: () => selection.filter !== '', close: () => (selection.filter = ''), covers: false },
    // A word at the side does not take Escape from what one works on.
    { isOpen: () => notices.list.length > 0, close: notices.dismissNewest, covers: false },
    { isOpen: () => selection.list.length > 0, close: selection.clear, covers: false }
  ]
  return {
    closeTopmost: () => layers.find(l => l.isOpen())?.close(),
    isCovered: () => layers.some(l => l.covers && l.isOpen())
  }
}

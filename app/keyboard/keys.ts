// Listens to the keyboard for the whole page: single keys of the platform, then two-stroke commands.
import { onBeforeUnmount, onMounted } from 'vue'
import { commands, FIRST } from '~/commands/table'
import { useAsk } from '~/stores/ask'
import { useNotices } from '~/stores/notices'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useTransport } from '~/stores/transport'
import { useFocusHome, wantsPress } from './focus'
import { useLayers } from './layers'
import { allShown } from './shown'
import { strokeOf } from './stroke'

const isTyping = (e: KeyboardEvent) => {
  const t = e.target as HTMLElement
  return (
    t.isContentEditable ||
    /^(TEXTAREA|SELECT)$/.test(t.tagName) ||
    (t.tagName === 'INPUT' && !['checkbox', 'radio', 'range', 'button'].includes((t as HTMLInputElement).type))
  )
}
/** A list that what has the focus has opened: Escape is its own. */
const hasOpenList = (target: EventTarget | null) =>
  target instanceof Element && target.closest('[aria-expanded="true"], .el-popper[aria-hidden="false"]') !== null

/** @param view changes where another view takes the place of this one */
export function useKeys(view: () => unknown): void {
  const store = useSession(),
    selection = useSelection(),
    shell = useShell(),
    transport = useTransport(),
    ask = useAsk(),
    notices = useNotices(),
    layers = useLayers()
  const all = commands()
  const { settle } = useFocusHome([
    view,
    () => ask.question,
    () => shell.sheet,
    () => shell.helpOpen,
    () => shell.checksOpen,
    () => shell.historyOpen,
    () => shell.railOf,
    () => shell.openSlot,
    () => shell.openNotes,
    () => selection.focused,
    () => store.session
  ])

  const PLAIN: Record<string, () => unknown> = {
    ' ': transport.toggle,
    '/': () => document.querySelector<HTMLInputElement>('input[data-filter]')?.focus(),
    '.': () => (shell.commandsOpen = true),
    '?': () => (shell.helpOpen = true),
    'Enter': () => {
      if (selection.focused) shell.railOf = selection.focused
    }
  }

  function selectAll(): boolean {
    const ids = allShown()
    if (ids) selection.set(ids, selection.focused ?? ids[0] ?? null)
    return ids !== null
  }
  /** With Ctrl. Each says whether the key is ours, or is left to the browser. */
  const HELD: Record<string, (e: KeyboardEvent) => boolean> = {
    a: selectAll,
    y() {
      store.redo()
      return true
    },
    z(e) {
      if (e.shiftKey) store.redo()
      else store.undo()
      return true
    }
  }

  async function second(key: string): Promise<void> {
    const command = all.find(c => c.keys === `${shell.stroke} ${key}`)
    shell.stroke = ''
    if (!command) return
    if (command.on && !selection.list.length)
      return notices.tell(`“${command.label}” acts on selected channels: select some first.`)
    await command.run()
    settle()
  }

  function press(e: KeyboardEvent): void {
    if (e.key === 'Escape') {
      if (e.defaultPrevented || hasOpenList(e.target)) return
      e.preventDefault()
      if (isTyping(e) && !layers.isCovered()) (e.target as HTMLElement).blur()
      else layers.closeTopmost()
      return settle()
    }
    if (isTyping(e) || e.defaultPrevented || layers.isCovered() || shell.commandsOpen) return
    if (e.ctrlKey || e.metaKey) {
      if (HELD[strokeOf(e)]?.(e)) e.preventDefault()
      return
    }
    if (e.altKey) return
    const key = strokeOf(e)
    if (shell.stroke) {
      if (['Shift', 'CapsLock'].includes(e.key)) return
      e.preventDefault()
      void second(key)
    } else if ((key === ' ' || key === 'Enter') && wantsPress(e.target)) return
    else if (PLAIN[key]) {
      e.preventDefault()
      PLAIN[key]()
    } else if (FIRST[key] && !e.repeat) {
      e.preventDefault()
      shell.stroke = key
    }
  }

  onMounted(() => window.addEventListener('keydown', press))
  onBeforeUnmount(() => window.removeEventListener('keydown', press))
}

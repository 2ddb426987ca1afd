// Listens to the keyboard for the whole page: single keys of the platform, then two-stroke commands.
import { onBeforeUnmount, onMounted } from 'vue'
import { commands, FIRST } from '~/commands/table'
import { useAsk } from '~/stores/ask'
import { useNotices } from '~/stores/notices'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useTransport } from '~/stores/transport'

const isTyping = (e: KeyboardEvent) => {
  const t = e.target as HTMLElement
  return (
    t.isContentEditable ||
    /^(TEXTAREA|SELECT)$/.test(t.tagName) ||
    (t.tagName === 'INPUT' && !['checkbox', 'radio', 'range', 'button'].includes((t as HTMLInputElement).type))
  )
}

export function useKeys(): void {
  const store = useSession(),
    selection = useSelection(),
    shell = useShell(),
    transport = useTransport(),
    ask = useAsk(),
    notices = useNotices()
  const all = commands()

  function single(e: KeyboardEvent): boolean {
    if (e.key === ' ') {
      void transport.toggle()
      return true
    }
    if (e.key === '/') {
      document.querySelector<HTMLInputElement>('input[data-filter]')?.focus()
      return true
    }
    if (e.key === '.') {
      shell.commandsOpen = true
      return true
    }
    if (e.key === '?') {
      shell.helpOpen = !shell.helpOpen
      return true
    }
    if (e.key === 'Enter' && selection.focused && !(e.target as HTMLElement).closest('button, a')) {
      shell.railOf = selection.focused
      return true
    }
    return false
  }

  function press(e: KeyboardEvent): void {
    if (e.key === 'Escape' && !isTyping(e)) {
      if (shell.stroke) shell.stroke = ''
      else if (shell.openSlot) shell.openSlot = null
      else if (shell.openNotes) shell.openNotes = null
      else if (shell.railOf) shell.railOf = null
      else if (!ask.question && !shell.helpOpen && !shell.checksOpen) selection.clear()
      return
    }
    if (isTyping(e) || ask.question || shell.commandsOpen || e.defaultPrevented) return
    if (e.ctrlKey || e.metaKey) {
      if (e.key.toLowerCase() === 'z') {
        e.preventDefault()
        e.shiftKey ? store.redo() : store.undo()
      } else if (e.key.toLowerCase() === 'y') {
        e.preventDefault()
        store.redo()
      }
      return
    }
    if (e.altKey) return
    if (shell.stroke) {
      e.preventDefault()
      const command = all.find(c => c.keys === `${shell.stroke} ${e.key}`)
      shell.stroke = ''
      if (!command) return
      if (command.on && !selection.list.length)
        notices.tell(`“${command.label}” acts on selected channels: select some first.`)
      else void command.run()
    } else if (single(e)) e.preventDefault()
    else if (FIRST[e.key]) {
      e.preventDefault()
      shell.stroke = e.key
    }
  }

  onMounted(() => window.addEventListener('keydown', press))
  onBeforeUnmount(() => window.removeEventListener('keydown', press))
}

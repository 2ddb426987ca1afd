// Everything that can be done by keys: two strokes, typed on the selection. The help sheet and the command field are
// made from this table.
import { navigateTo } from '#imports'
import { useGestures } from '~/stores/gestures'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useTheme } from '~/stores/theme'
import { useTransport } from '~/stores/transport'

export interface Command { keys: string, label: string, group: string, /** Needs something selected. */ on?: 'selection', run(): unknown }

/** What the first strokes stand for, as shown in the hint strip. */
export const FIRST: Record<string, string> = {
  n: 'new', f: 'feed', s: 'send, solo, select', k: 'key', p: 'print', m: 'mute', i: 'insert', l: 'level', c: 'colour, clear', g: 'go', r: 'rename, remove', v: 'view', h: 'hear', o: 'open'
}

export function commands(): Command[] {
  const g = useGestures(), s = useSelection(), store = useSession(), shell = useShell(), transport = useTransport(), theme = useTheme()
  const view = (name: string) => () => navigateTo({ path: `/s/${store.id}/${name}`, query: s.list.length ? { sel: s.list.join(',') } : {} })
  const one = (act: (id: string) => unknown) => () => { if (s.focused) return act(s.focused) }
  return [
    { keys: 'n s', label: 'New submix of the selection', group: 'Network', on: 'selection', run: () => g.newSubmix(s.list) },
    { keys: 'n r', label: 'New return', group: 'Network', run: () => g.newBus('return', 'return') },
    { keys: 'n t', label: 'New stem', group: 'Network', run: () => g.newBus('stem', 'stem') },
    { keys: 'n m', label: 'New main', group: 'Network', run: () => g.newBus('main', 'main') },
    { keys: 'n b', label: 'New empty submix', group: 'Network', run: () => g.newBus('submix', 'submix') },
    { keys: 'f t', label: 'Feed to…', group: 'Network', on: 'selection', run: () => g.askFeed(s.list) },
    { keys: 'f n', label: 'Feed nowhere (unassign)', group: 'Network', on: 'selection', run: () => g.feedTo(s.list, null) },
    { keys: 'f p', label: 'Feed to ports out…', group: 'Network', on: 'selection', run: () => g.askPorts(s.list, 'out') },
    { keys: 'f i', label: 'Hear ports in…', group: 'Network', on: 'selection', run: () => g.askPorts(s.list, 'in') },
    { keys: 's t', label: 'Send to…, after the fader', group: 'Network', on: 'selection', run: () => g.askSend(s.list, 'post') },
    { keys: 's b', label: 'Send to…, before the fader', group: 'Network', on: 'selection', run: () => g.askSend(s.list, 'pre') },
    { keys: 'k t', label: 'Key to…', group: 'Network', on: 'selection', run: () => g.askKey(s.list) },
    { keys: 'm u', label: 'Mute', group: 'Strips', on: 'selection', run: () => g.toggle(s.list, 'muted') },
    { keys: 's o', label: 'Solo', group: 'Strips', on: 'selection', run: () => g.toggle(s.list, 'soloed') },
    { keys: 's a', label: 'Solo safe', group: 'Strips', on: 'selection', run: () => g.toggle(s.list, 'safe') },
    { keys: 'c s', label: 'Clear every solo', group: 'Strips', run: g.clearSolo },
    { keys: 'l e', label: 'Level…', group: 'Strips', on: 'selection', run: () => g.askLevel(s.list) },
    { keys: 'c o', label: 'Colour…', group: 'Strips', on: 'selection', run: () => g.askColour(s.list) },
    { keys: 'r n', label: 'Rename', group: 'Strips', on: 'selection', run: one(g.rename) },
    { keys: 'r s', label: 'Rename in series…', group: 'Strips', on: 'selection', run: () => g.renameSeries(s.list) },
    { keys: 'r e', label: 'Remove', group: 'Strips', on: 'selection', run: () => g.remove(s.list) },
    { keys: 'p k', label: 'Park or bring back', group: 'Strips', on: 'selection', run: () => g.toggle(s.list, 'parked') },
    { keys: 'i n', label: 'Insert a processor or loop…', group: 'Rail', on: 'selection', run: one(id => g.addSlot(id)) },
    { keys: 'i e', label: 'Insert an equaliser', group: 'Rail', on: 'selection', run: one(id => g.addSlot(id, 'equaliser')) },
    { keys: 'i c', label: 'Insert a compressor', group: 'Rail', on: 'selection', run: one(id => g.addSlot(id, 'compressor')) },
    { keys: 'o r', label: 'Open the rail', group: 'Rail', on: 'selection', run: one(id => { shell.railOf = id; return view('network')() }) },
    { keys: 'p r', label: 'Print…', group: 'Passes', on: 'selection', run: () => g.printThese(s.list) },
    { keys: 'h t', label: 'Hear this', group: 'Listening', on: 'selection', run: one(g.hear) },
    { keys: 's f', label: 'Select all that feed this', group: 'Finding', on: 'selection', run: g.selectFeeders },
    { keys: 's y', label: 'Select its whole family', group: 'Finding', on: 'selection', run: g.selectFamily },
    { keys: 'g o', label: 'Go to…', group: 'Finding', run: g.goTo },
    { keys: 'g b', label: 'Back to what was selected before', group: 'Finding', run: s.back },
    { keys: 'g f', label: 'Forward again', group: 'Finding', run: s.forward },
    { keys: 'g s', label: 'To the start', group: 'Listening', run: () => transport.seek(0) },
    { keys: 'v s', label: 'Sources', group: 'Views', run: view('sources') },
    { keys: 'v n', label: 'Network', group: 'Views', run: view('network') },
    { keys: 'v m', label: 'Map', group: 'Views', run: () => { shell.networkAs = 'map'; return view('network')() } },
    { keys: 'v x', label: 'Crosspoints', group: 'Views', run: () => { shell.networkAs = 'crosspoints'; return view('network')() } },
    { keys: 'v r', label: 'Rig', group: 'Views', run: view('rig') },
    { keys: 'v p', label: 'Passes', group: 'Views', run: view('passes') },
    { keys: 'v c', label: 'Checks', group: 'Views', run: () => { shell.checksOpen = !shell.checksOpen } },
    { keys: 'v f', label: 'Fold or unfold Path', group: 'Views', run: shell.togglePath },
    { keys: 'v d', label: 'Paper or Dim room', group: 'Views', run: theme.toggle }
  ]
}

/** Keys of one stroke, as the platform has them. */
export const PLAIN_KEYS = [
  ['Space', 'play, stop'], ['Escape', 'leave, clear'], ['← → ↑ ↓', 'move; on a level, change it'], ['Enter', 'open the rail'],
  ['Ctrl Z', 'undo'], ['Ctrl Shift Z', 'redo'], ['Ctrl A', 'select all that is shown'], ['/', 'filter'], ['.', 'find anything by typing'], ['?', 'this page']
] as const

// Everything that can be done by keys: two strokes, typed on the selection. The help sheet and the command field are
// made from this table.
import { goTo } from '~/stores/goTo'
import { useFinding } from '~/stores/finding'
import { useFolding } from '~/stores/folding'
import { useGestures } from '~/stores/gestures'
import { useListening } from '~/stores/listening'
import { useMovement } from '~/stores/movement'
import { useNotes } from '~/stores/notes'
import { useRides } from '~/stores/rides'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell, type PathQuestion } from '~/stores/shell'
import { useStrips } from '~/stores/strips'
import { useTakes } from '~/stores/takes'
import { useTheme } from '~/stores/theme'
import { useTracks } from '~/stores/tracks'
import { useTransport } from '~/stores/transport'

export interface Command {
  keys: string
  label: string
  group: string
  /** Needs something selected. */ on?: 'selection'
  run(): unknown
}

/** What the first strokes stand for, as shown in the hint strip. */
export const FIRST: Record<string, string> = {
  n: 'new',
  a: 'arrange',
  d: 'duplicate',
  f: 'feed, families',
  s: 'send, solo, select',
  k: 'key',
  p: 'print, pan, park',
  m: 'mute, move, movement',
  i: 'insert',
  l: 'level, link, layout, legs',
  c: 'colour, clear',
  t: 'table, take, template, tempo',
  g: 'go',
  r: 'rename, remove, ride',
  w: 'why, what',
  v: 'view',
  h: 'hear',
  o: 'open'
}

export function commands(): Command[] {
  const g = useGestures(),
    strips = useStrips(),
    finding = useFinding(),
    s = useSelection(),
    store = useSession(),
    shell = useShell(),
    transport = useTransport(),
    theme = useTheme()
  const view = (name: string) => () =>
    goTo({ path: `/s/${store.id}/${name}`, query: s.list.length ? { sel: s.list.join(',') } : {} })
  const network = (as: typeof shell.networkAs) => () => {
    shell.networkAs = as
    return view('network')()
  }
  const one = (act: (id: string) => unknown) => () => {
    if (s.focused) return act(s.focused)
  }
  const sheet = (name: string) => () => {
    shell.sheet = name
  }
  const ask = (question: PathQuestion) => () => shell.askPath(question)
  return [
    {
      keys: 'n s',
      label: 'New submix of the selection',
      group: 'Network',
      on: 'selection',
      run: () => g.newSubmix(s.list)
    },
    { keys: 'n r', label: 'New return', group: 'Network', run: () => g.newBus('return', 'return') },
    { keys: 'n t', label: 'New stem', group: 'Network', run: () => g.newBus('stem', 'stem') },
    { keys: 'n m', label: 'New main', group: 'Network', run: () => g.newBus('main', 'main') },
    { keys: 'n b', label: 'New empty submix', group: 'Network', run: () => g.newBus('submix', 'submix') },
    { keys: 'n c', label: 'New channels, several at once…', group: 'Network', run: sheet('channels') },
    { keys: 'n n', label: 'New note track…', group: 'Network', run: () => useNotes().newTrack() },
    { keys: 'n p', label: 'Propose a network…', group: 'Network', run: sheet('propose') },
    { keys: 'd u', label: 'Duplicate…', group: 'Network', on: 'selection', run: sheet('duplicate') },
    { keys: 'f t', label: 'Feed to…', group: 'Network', on: 'selection', run: () => g.askFeed(s.list) },
    { keys: 'f a', label: 'Feed also to…', group: 'Network', on: 'selection', run: () => g.askAlso(s.list) },
    {
      keys: 'f n',
      label: 'Feed nowhere (unassign)',
      group: 'Network',
      on: 'selection',
      run: () => g.feedTo(s.list, null)
    },
    {
      keys: 'f p',
      label: 'Feed to ports out…',
      group: 'Network',
      on: 'selection',
      run: () => g.askPorts(s.list, 'out')
    },
    { keys: 'f i', label: 'Hear ports in…', group: 'Network', on: 'selection', run: () => g.askPorts(s.list, 'in') },
    {
      keys: 's t',
      label: 'Send to…, after the fader',
      group: 'Network',
      on: 'selection',
      run: () => g.askSend(s.list, 'post')
    },
    {
      keys: 's b',
      label: 'Send to…, before the fader',
      group: 'Network',
      on: 'selection',
      run: () => g.askSend(s.list, 'pre')
    },
    { keys: 'k t', label: 'Key to…', group: 'Network', on: 'selection', run: () => g.askKey(s.list) },
    {
      keys: 'k s',
      label: 'Key silently to… (silent trigger)',
      group: 'Network',
      on: 'selection',
      run: () => g.askSilentTrigger(s.list)
    },
    {
      keys: 'm g',
      label: 'Move gain without changing the sound…',
      group: 'Network',
      on: 'selection',
      run: sheet('gain')
    },
    { keys: 't m', label: 'Tempo…', group: 'Network', run: sheet('tempo') },
    { keys: 't e', label: 'Templates…', group: 'Network', run: sheet('templates') },
    { keys: 't c', label: 'Table of crosspoints, out and in…', group: 'Network', run: sheet('table') },
    { keys: 'm u', label: 'Mute', group: 'Strips', on: 'selection', run: () => strips.toggle(s.list, 'muted') },
    { keys: 's o', label: 'Solo', group: 'Strips', on: 'selection', run: () => strips.toggle(s.list, 'soloed') },
    { keys: 's a', label: 'Solo safe', group: 'Strips', on: 'selection', run: () => strips.toggle(s.list, 'safe') },
    { keys: 'c s', label: 'End every solo', group: 'Strips', run: strips.clearSolo },
    { keys: 'l e', label: 'Level…', group: 'Strips', on: 'selection', run: () => strips.askLevel(s.list) },
    {
      keys: 'l b',
      label: 'Level up or down by…',
      group: 'Strips',
      on: 'selection',
      run: () => strips.askLevelBy(s.list)
    },
    { keys: 'p a', label: 'Pan…', group: 'Strips', on: 'selection', run: () => strips.askPan(s.list) },
    { keys: 'l a', label: 'Layout…', group: 'Strips', on: 'selection', run: () => strips.askLayout(s.list) },
    { keys: 'c o', label: 'Colour…', group: 'Strips', on: 'selection', run: () => strips.askColour(s.list) },
    { keys: 'l k', label: 'Link', group: 'Strips', on: 'selection', run: () => strips.link(s.list) },
    { keys: 'l w', label: 'What a link moves…', group: 'Strips', on: 'selection', run: () => strips.askLinked(s.list) },
    { keys: 'l u', label: 'Unlink', group: 'Strips', on: 'selection', run: () => strips.unlink(s.list) },
    { keys: 'l p', label: 'Pairs of mono tracks to stereo…', group: 'Strips', run: sheet('pairs') },
    { keys: 't o', label: 'Tracks that are takes of one source…', group: 'Strips', run: sheet('stacks') },
    {
      keys: 't s',
      label: 'Stack as takes of one track',
      group: 'Strips',
      on: 'selection',
      run: () => useTakes().stackSelected(s.list)
    },
    { keys: 't n', label: 'Next take', group: 'Strips', on: 'selection', run: one(id => useTakes().step(id, 1)) },
    { keys: 't b', label: 'Take before', group: 'Strips', on: 'selection', run: one(id => useTakes().step(id, -1)) },
    {
      keys: 'l s',
      label: 'Two mono tracks as one stereo track',
      group: 'Strips',
      on: 'selection',
      run: () => useTracks().joinSelected(s.list)
    },
    {
      keys: 'l m',
      label: 'Split into mono tracks',
      group: 'Strips',
      on: 'selection',
      run: () => useTracks().split(s.list)
    },
    {
      keys: 'a t',
      label: 'Place tracks at their time stamps',
      group: 'Strips',
      run: () => useTracks().placeByTime(s.list)
    },
    { keys: 'a f', label: 'Arrange the tracks by family', group: 'Strips', run: () => useTracks().arrange() },
    { keys: 'l l', label: 'Lift all links, or let them down', group: 'Strips', run: shell.toggleLifted },
    { keys: 'r n', label: 'Rename', group: 'Strips', on: 'selection', run: one(strips.rename) },
    {
      keys: 'r s',
      label: 'Rename in series…',
      group: 'Strips',
      on: 'selection',
      run: () => strips.renameSeries(s.list)
    },
    { keys: 'r e', label: 'Remove', group: 'Strips', on: 'selection', run: () => strips.remove(s.list) },
    {
      keys: 'p k',
      label: 'Park or bring back',
      group: 'Strips',
      on: 'selection',
      run: () => strips.toggle(s.list, 'parked')
    },
    {
      keys: 'i n',
      label: 'Insert a processor or loop…',
      group: 'Rail',
      on: 'selection',
      run: one(id => g.addSlot(id))
    },
    {
      keys: 'i e',
      label: 'Insert an equaliser',
      group: 'Rail',
      on: 'selection',
      run: one(id => g.addSlot(id, 'equaliser'))
    },
    {
      keys: 'i c',
      label: 'Insert a compressor',
      group: 'Rail',
      on: 'selection',
      run: one(id => g.addSlot(id, 'compressor'))
    },
    { keys: 'o n', label: 'Open the notes', group: 'Rail', on: 'selection', run: one(id => useNotes().open(id)) },
    {
      keys: 'o r',
      label: 'Open the rail',
      group: 'Rail',
      on: 'selection',
      run: one(id => {
        shell.railOf = id
        return view('network')()
      })
    },
    {
      keys: 'm o',
      label: 'Movement of the selection, over time',
      group: 'Passes',
      on: 'selection',
      run: () => {
        useMovement().add(s.list)
        shell.passesAs = 'time'
        return view('passes')()
      }
    },
    {
      keys: 'm c',
      label: 'Copy movement of the first selected onto the others',
      group: 'Passes',
      on: 'selection',
      run: () => {
        const [from, ...to] = s.list
        if (from) useMovement().copyOnto(from, to)
      }
    },
    { keys: 'r i', label: 'Ride: write what is moved while it plays', group: 'Passes', run: useRides().toggle },
    { keys: 'r a', label: 'Re-amp…', group: 'Passes', on: 'selection', run: sheet('reamp') },
    { keys: 'p o', label: 'A pass outside, by files…', group: 'Passes', run: sheet('offsite') },
    { keys: 'p r', label: 'Print…', group: 'Passes', on: 'selection', run: () => g.printThese(s.list) },
    {
      keys: 'p x',
      label: 'Premix: many to one, printed…',
      group: 'Passes',
      on: 'selection',
      run: () => g.premix(s.list)
    },
    { keys: 'p m', label: 'Audio that this session keeps…', group: 'Passes', run: sheet('storage') },
    { keys: 'h t', label: 'Hear this', group: 'Listening', on: 'selection', run: one(strips.hear) },
    { keys: 'h a', label: 'Hear it as stereo, mono, one side…', group: 'Listening', run: () => useListening().askAs() },
    { keys: 'h o', label: 'Hear in mono, or not', group: 'Listening', run: () => useListening().toggleMono() },
    { keys: 'h d', label: 'Output device…', group: 'Listening', run: () => useListening().askDevice() },
    { keys: 'h m', label: 'Hear the next main', group: 'Listening', run: transport.hearNextMain },
    {
      keys: 'f b',
      label: 'Fold or unfold the bundle of this',
      group: 'Finding',
      on: 'selection',
      run: () => useFolding().toggleOf(s.list)
    },
    { keys: 's f', label: 'Select all that feed this', group: 'Finding', on: 'selection', run: finding.selectFeeders },
    {
      keys: 's u',
      label: 'Select all that reach this',
      group: 'Finding',
      on: 'selection',
      run: finding.selectUpstream
    },
    { keys: 's y', label: 'Select its whole family', group: 'Finding', on: 'selection', run: finding.selectFamily },
    { keys: 's m', label: 'Select all that match the filter', group: 'Finding', run: finding.selectFound },
    { keys: 'g o', label: 'Go to…', group: 'Finding', run: finding.goTo },
    { keys: 'g b', label: 'Back to what was selected before', group: 'Finding', run: s.back },
    { keys: 'g f', label: 'Forward again', group: 'Finding', run: s.forward },
    { keys: 'w s', label: 'Why is this silent?', group: 'Finding', on: 'selection', run: ask('silent') },
    { keys: 'w w', label: 'What would change without it?', group: 'Finding', on: 'selection', run: ask('without') },
    { keys: 'w h', label: 'How much of what is heard is it?', group: 'Finding', on: 'selection', run: ask('share') },
    { keys: 'f w', label: 'Words for families…', group: 'Finding', run: sheet('families') },
    { keys: 'g s', label: 'To the start', group: 'Listening', run: () => transport.seek(0) },
    { keys: 'v s', label: 'Sources', group: 'Views', run: view('sources') },
    { keys: 'v n', label: 'Network', group: 'Views', run: view('network') },
    { keys: 'v m', label: 'Map', group: 'Views', run: network('map') },
    { keys: 'v x', label: 'Crosspoints', group: 'Views', run: network('crosspoints') },
    { keys: 'v o', label: 'Cost', group: 'Views', run: network('cost') },
    { keys: 'v r', label: 'Rig', group: 'Views', run: view('rig') },
    {
      keys: 'v p',
      label: 'Passes',
      group: 'Views',
      run: () => {
        shell.passesAs = 'prints'
        return view('passes')()
      }
    },
    {
      keys: 'v t',
      label: 'Over time',
      group: 'Views',
      run: () => {
        shell.passesAs = 'time'
        return view('passes')()
      }
    },
    {
      keys: 'v c',
      label: 'Checks',
      group: 'Views',
      run: () => {
        shell.checksOpen = !shell.checksOpen
      }
    },
    {
      keys: 'v h',
      label: 'What was done: the list, and back to any step',
      group: 'Views',
      run: () => {
        shell.historyOpen = !shell.historyOpen
      }
    },
    { keys: 'v f', label: 'Fold or unfold Path', group: 'Views', run: shell.togglePath },
    { keys: 'v b', label: 'Fold or unfold all bundles', group: 'Views', run: () => useFolding().toggleAll() },
    { keys: 'v i', label: 'Hide print tracks, or show them', group: 'Views', run: () => useFolding().togglePrints() },
    { keys: 'v w', label: 'Wide or compact strips', group: 'Views', run: shell.toggleCompact },
    { keys: 'v l', label: 'Let the view follow the selection, or stay', group: 'Views', run: shell.toggleFollows },
    { keys: 'v d', label: 'Paper or Dim room', group: 'Views', run: theme.toggle }
  ]
}

/** Commands under the names of their groups, in the order of the table. */
export function grouped(list: readonly Command[]): [group: string, commands: Command[]][] {
  const groups = new Map<string, Command[]>()
  for (const c of list) groups.set(c.group, [...(groups.get(c.group) ?? []), c])
  return [...groups]
}

/** Keys of one stroke, as the platform has them. */
export const PLAIN_KEYS = [
  ['Space', 'play, stop'],
  ['Escape', 'close the topmost thing, cancel'],
  ['← → ↑ ↓', 'move; on a number, change it'],
  ['Ctrl ← → ↑ ↓', 'on the Map: move and leave the selection'],
  ['Ctrl Space', 'on the Map: add to the selection, or take from it'],
  ['Alt ↑ ↓', 'on the Map: level of what is selected'],
  ['Alt ← →', 'on a slot in the rail: move it, also across the fader'],
  ['Enter', 'open the rail'],
  ['Ctrl Z', 'undo'],
  ['Ctrl Shift Z', 'redo'],
  ['Ctrl A', 'select all that is shown'],
  ['/', 'filter'],
  ['.', 'find anything by typing'],
  ['?', 'this page']
] as const

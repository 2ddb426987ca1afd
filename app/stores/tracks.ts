// What is done to tracks as they came: pairs become stereo, legs become tracks, families stand together.
import { defineStore } from 'pinia'
import { computed } from 'vue'
import { pairsIn, type Pair } from '@nullet/core/propose/pairs'
import { byTimeStamps } from '@nullet/core/propose/timeStamps'
import { familyTable } from '@nullet/core/session/families'
import { keysAfter } from '@nullet/core/session/order'
import { byOrder, rows } from '@nullet/core/session/session'
import { naturally } from '~/session/arriving'
import { plural } from '~/words/format'
import { newId } from './ids'
import { useNotices } from './notices'
import { useSelection } from './selection'
import { useSession } from './session'

export const useTracks = defineStore('tracks', () => {
  const store = useSession(),
    notices = useNotices()
  const pairs = computed(() => (store.session ? pairsIn(store.session) : []))
  const tracks = () =>
    rows(store.session!, 'channel')
      .filter(c => c.kind === 'track')
      .sort(byOrder)

  /** @param list as they are to be called */
  function join(list: readonly Pick<Pair, 'left' | 'right' | 'name'>[]): boolean {
    const done = store.apply('joinTracks', { pairs: list.map(({ left, right, name }) => ({ left, right, name })) })
    if (done)
      notices.tell(
        list.length === 1 ? `“${list[0]!.name}” is one stereo track.` : `${list.length} pairs are stereo tracks.`,
        store.thisUndo()
      )
    return done
  }

  /** Two selected mono tracks, the upper one at the left unless their names say otherwise. */
  function joinSelected(ids: readonly string[]): void {
    if (ids.length !== 2) return notices.tell('Select two mono tracks to make one stereo track of them.')
    const known = pairs.value.find(p => ids.includes(p.left) && ids.includes(p.right))
    const [a, b] = ids.map(id => store.session!.channel[id]!).sort(byOrder)
    if (join([known ?? { left: a!.id, right: b!.id, name: a!.name }]))
      useSelection().set([known?.left ?? a!.id], known?.left ?? a!.id)
  }

  function split(ids: readonly string[]): void {
    const wide = ids
      .map(id => store.session!.channel[id]!)
      .filter(c => c.kind === 'track' && c.layout.length > 1)
      .sort(byOrder)
    if (!wide.length) return notices.tell('Select tracks of two legs or more to split them into mono tracks.')
    const all = rows(store.session!, 'channel').sort(byOrder)
    const list = wide.map(c => {
      const next = all[all.findIndex(x => x.id === c.id) + 1]?.order ?? null
      const orders = keysAfter(c.order, c.layout.length - 1, next)
      return { id: c.id, others: orders.map(order => ({ id: newId(), order })) }
    })
    if (!store.apply('splitTracks', { tracks: list })) return
    useSelection().set(
      list.flatMap(t => [t.id, ...t.others.map(o => o.id)]),
      list[0]!.id
    )
    const made = list.reduce((n, t) => n + t.others.length + 1, 0)
    notices.tell(
      `${plural(list.length, 'track is', 'tracks are')} ${plural(made, 'mono track', 'mono tracks')} now.`,
      store.thisUndo()
    )
  }

  /** Tracks in the order of the table of families, by name within each; what is unknown comes last. */
  function arrange(): void {
    const now = tracks(),
      table = familyTable(store.session!).map(f => f.family)
    const place = (family: string) => (table.indexOf(family) + 1 || table.length + 1) - (family ? 0 : -1)
    const wanted = [...now].sort((a, b) => place(a.family) - place(b.family) || naturally.compare(a.name, b.name))
    const edits = wanted.flatMap((c, i) => {
      const order = now[i]!.order
      return c.order === order ? [] : [{ verb: 'setChannels', args: { ids: [c.id], fields: { order } } }]
    })
    if (!edits.length) return notices.tell('The tracks are arranged by family already.')
    if (store.apply('several', { label: 'Arrange by family', edits }))
      notices.tell(`${plural(wanted.length, 'track', 'tracks')} arranged by family.`, store.thisUndo())
  }

  /** The selected tracks, or all, where their files say that they were recorded. */
  function placeByTime(ids: readonly string[]): void {
    const placed = byTimeStamps(store.session!, new Set(ids.length ? ids : tracks().map(t => t.id)))
    if (!placed) return notices.tell('Fewer than two of these files say when they were recorded.')
    if (!placed.length) return notices.tell('They lie at their time stamps already.')
    if (store.apply('placeClips', { clips: placed }))
      notices.tell(
        `${plural(placed.length, 'clip', 'clips')} placed by time stamps, the earliest at the start.`,
        store.thisUndo()
      )
  }

  return { placeByTime, pairs, join, joinSelected, split, arrange }
})

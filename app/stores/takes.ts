// Takes of a track: which is heard, what they are called and worth, and tracks that become takes of one.
import { defineStore } from 'pinia'
import { computed } from 'vue'
import { mayStack, stacksIn, takeNumber, type Stack } from '@nullet/core/propose/stacks'
import { ordersAfter } from '@nullet/core/session/order'
import type { Take } from '@nullet/core/session/rows'
import { byOrder, takesOf } from '@nullet/core/session/session'
import { plural } from '~/words/format'
import { newId } from './ids'
import { useNotices } from './notices'
import { useSelection } from './selection'
import { useSession } from './session'
import { useTransport } from './transport'

/** Over so long one take passes into another. */
const FADE_S = 0.01

export const useTakes = defineStore('takes', () => {
  const store = useSession(),
    transport = useTransport(),
    notices = useNotices()
  const stacks = computed(() => (store.session ? stacksIn(store.session) : []))

  const hear = (channel: string, take: string | null) => store.apply('hearTake', { channel, take })
  const set = (id: string, fields: Partial<Pick<Take, 'name' | 'rating'>>) =>
    store.apply('setTakes', { ids: [id], fields })
  function remove({ id, name }: Take): void {
    if (store.apply('removeTakes', { ids: [id] })) notices.tell(`“${name}” is removed.`, store.thisUndo())
  }

  /** A take of the one that is heard, with the marked range of another in it. */
  function splice({ id: from, name, channel }: Take): void {
    const base = store.session!.take[store.session!.channel[channel]?.take ?? ''],
      marked = transport.repeat
    if (!base || !marked) return notices.tell('Mark a range first, and hear the take that it goes into.')
    const [order] = ordersAfter(takesOf(store.session!, channel), 1) as [string]
    const take = { id: newId(), name: `${base.name} with ${name}`.slice(0, 300), order }
    const range = { from: Math.max(0, Math.round(marked.from)), to: Math.round(marked.to) }
    const fadeFrames = Math.round(FADE_S * transport.rate)
    if (store.apply('spliceTakes', { channel, take, base: base.id, from, range, fadeFrames }))
      notices.tell(`“${take.name}” is heard: the marked range is that of “${name}”.`, store.thisUndo())
  }

  /** The take after the one that is heard, or before it; round at the ends. */
  function step(channel: string, by: 1 | -1): void {
    const all = takesOf(store.session!, channel),
      { name, take } = store.session!.channel[channel]!
    if (all.length < 2) return notices.tell(`“${name}” has ${all.length ? 'one take' : 'no takes'}.`)
    const at = all.findIndex(t => t.id === take)
    const next = all[(at + by + all.length) % all.length]!
    hear(channel, next.id)
    notices.tell(`“${name}” plays “${next.name}”.`)
  }

  /** @param list what becomes one track each, under these names */
  function stack(list: readonly Stack[]): boolean {
    const edits = list.flatMap(({ name, tracks }) => {
      const orders = ordersAfter([], tracks.length)
      const [first, ...others] = tracks.map((t, i) => ({
        track: t.track,
        take: { id: newId(), name: `Take ${t.number}`, order: orders[i]! }
      }))
      return [
        { verb: 'stackTakes', args: { onto: first!.track, first: first!.take, others } },
        { verb: 'renameChannels', args: { names: [{ id: first!.track, name }] } }
      ]
    })
    const [only] = list
    const label = list.length === 1 ? `Takes of “${only!.name}”` : `Takes on ${list.length} tracks`
    const done = store.apply('several', { label, edits })
    if (done)
      notices.tell(
        list.length === 1
          ? `“${only!.name}” has ${plural(only!.tracks.length, 'take', 'takes')}.`
          : `${list.length} tracks have takes now.`,
        store.thisUndo()
      )
    return done
  }

  /** The selected tracks as takes of the uppermost, numbered as their names say, else in their order. */
  function stackSelected(ids: readonly string[]): void {
    const chosen = ids.map(id => store.session!.channel[id]!).sort(byOrder)
    const [first, ...others] = chosen
    if (!first || !others.length) return notices.tell('Select two tracks or more to make takes of them.')
    const why = mayStack(
      store.session!,
      first.id,
      others.map(o => o.id)
    )
    if (why) return notices.tell(`They cannot be takes of one track: ${why}.`)
    const numbers = chosen.map(c => takeNumber(c.name)?.number)
    const told = new Set(numbers).size === chosen.length && !numbers.includes(undefined)
    const tracks = chosen.map((c, i) => ({ track: c.id, number: told ? numbers[i]! : i + 1 }))
    if (stack([{ name: takeNumber(first.name)?.name ?? first.name, tracks }])) useSelection().set([first.id], first.id)
  }

  return { stacks, hear, set, remove, splice, step, stack, stackSelected }
})

// Channels over time: which are laid out, what of each is looked at, the stretch of time that is seen, outlines of
// buses.
import { defineStore } from 'pinia'
import { computed, shallowReactive, shallowRef, watch } from 'vue'
import { copyEnvelopes, counterpart } from '@nullet/core/edits/copyEnvelopes'
import { channelOf, movingFields, movingOf, targetOf, type Target } from '@nullet/core/movement/targets'
import { byOrder, rows, slotsOf, type Session } from '@nullet/core/session/session'
import { useAnalyst } from './analyst'
import { newId } from './ids'
import { namesOf } from './names'
import { useNotices } from './notices'
import { useSession } from './session'
import { useTransport } from './transport'

/** Shortest stretch of time that fills the view, in seconds. */
const SHORTEST_S = 0.05

export const useMovement = defineStore('movement', () => {
  const store = useSession(),
    transport = useTransport(),
    notices = useNotices(),
    analyst = useAnalyst()
  const added = shallowRef<string[]>([])
  const tool = shallowRef<'points' | 'draw'>('points')
  const view = shallowRef({ from: 0, to: 0 })
  const looked = shallowReactive(new Map<string, Target>())
  /** Outlines of buses as they sounded when they were rendered. */
  const outlines = shallowReactive(new Map<string, { peaks: Int16Array; of: Session }>())
  watch(
    () => store.id,
    () => {
      added.value = []
      looked.clear()
      outlines.clear()
      view.value = { from: 0, to: 0 }
    }
  )

  const seen = computed(() =>
    view.value.to > view.value.from ? view.value : { from: 0, to: Math.max(transport.length, transport.rate) }
  )
  /** Channels with movement, and those that were laid beside them. */
  const shown = computed(() => {
    const s = store.session!
    const moving = new Set(rows(s, 'envelope').map(e => channelOf(s, targetOf(e))))
    return rows(s, 'channel')
      .filter(c => moving.has(c.id) || added.value.includes(c.id))
      .sort(byOrder)
      .map(c => c.id)
  })

  const add = (ids: readonly string[]) => {
    added.value = [...new Set([...added.value, ...ids])]
  }
  const drop = (id: string) => {
    added.value = added.value.filter(a => a !== id)
  }

  /** Everything of a channel that can move. */
  function targets(channel: string): Target[] {
    const s = store.session!
    return [
      ...['levelDb', 'pan'].map(field => ({ owner: 'channel' as const, row: channel, field })),
      ...rows(s, 'feed')
        .filter(f => f.from === channel || (f.kind === 'input' && f.to === channel))
        .flatMap(f => ['levelDb', 'pan'].map(field => ({ owner: 'feed' as const, row: f.id, field }))),
      ...slotsOf(s, channel).flatMap(slot =>
        movingFields(slot).map(field => ({ owner: 'slot' as const, row: slot.id, field }))
      )
    ].filter(t => movingOf(s, t))
  }
  /** What is looked at: what was chosen, else the first that moves, else the level. */
  function target(channel: string): Target {
    const chosen = looked.get(channel),
      s = store.session!
    if (chosen && movingOf(s, chosen)) return chosen
    const first = rows(s, 'envelope')
      .map(targetOf)
      .find(t => channelOf(s, t) === channel)
    return first ?? { owner: 'channel', row: channel, field: 'levelDb' }
  }
  function look(channel: string, t: Target): void {
    add([channel])
    looked.set(channel, t)
  }
  const envelopesOn = (channel: string) =>
    rows(store.session!, 'envelope').filter(e => channelOf(store.session!, targetOf(e)) === channel)

  /** Narrower or wider about a frame. */
  function zoom(factor: number, about = (seen.value.from + seen.value.to) / 2): void {
    const whole = Math.max(transport.length, transport.rate),
      { from, to } = seen.value
    const span = Math.max(SHORTEST_S * transport.rate, Math.min(whole, (to - from) * factor))
    const start = Math.max(0, Math.min(whole - span, about - ((about - from) / (to - from)) * span))
    view.value = span >= whole ? { from: 0, to: 0 } : { from: start, to: start + span }
  }
  function scroll(frames: number): void {
    const { from, to } = seen.value,
      start = Math.max(0, Math.min(Math.max(transport.length, to - from) - (to - from), from + frames))
    view.value = { from: start, to: start + to - from }
  }

  function copyOnto(from: string, to: string[]): void {
    const s = store.session!,
      ids = envelopesOn(from).map(e => e.id),
      others = to.filter(id => id !== from)
    if (!ids.length) return notices.tell(`Nothing moves on “${s.channel[from]!.name}” yet.`)
    if (!others.length) return notices.tell('Select the channels that are to move the same way, then copy.')
    const lacking = others.flatMap(id => ids.filter(e => !counterpart(s, targetOf(s.envelope[e]!), from, id)))
    if (store.apply(copyEnvelopes.verb, { ids, from, to: others, prefix: newId() })) {
      notices.tell(
        `Movement of ${s.channel[from]!.name} copied onto ${namesOf(s, others)}.${lacking.length ? ` ${lacking.length} of ${ids.length * others.length} had nothing to answer to and were left out.` : ''}`,
        store.thisUndo()
      )
    }
  }

  /** Renders the outline of a channel at its post-fader tap. */
  async function renderOutline(channel: string): Promise<void> {
    const of = store.session!
    const answer = await analyst.ask({ kind: 'outline', channel, range: { from: 0, frames: transport.length } })
    if (answer) outlines.set(channel, { peaks: answer.peaks, of })
  }

  return {
    added,
    tool,
    view,
    seen,
    shown,
    outlines,
    add,
    drop,
    targets,
    target,
    look,
    envelopesOn,
    zoom,
    scroll,
    copyOnto,
    renderOutline
  }
})

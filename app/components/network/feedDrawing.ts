// Drawing a feed by hand: from a strip's end to another strip, which offers its verbs and says what is impossible.
import { onBeforeUnmount, shallowRef, type Ref } from 'vue'
import { slotLabel, PROCESSORS } from '@nullet/core/processors/table'
import { slotsOf } from '@nullet/core/session/session'
import { useGestures } from '~/stores/gestures'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import type { Point } from './lines'

export interface Offer {
  verb: string
  label: string
  refused?: string
  run(): void
}
export interface Target {
  id: string
  name: string
  rect: DOMRect
  offers: Offer[]
  chosen: string | null
}

export function useFeedDrawing(area: Ref<HTMLElement | undefined>, startOf: (id: string) => Point | null) {
  const store = useSession(),
    selection = useSelection(),
    gestures = useGestures()
  const drawing = shallowRef<{ start: Point; at: Point } | null>(null)
  const target = shallowRef<Target | null>(null)
  let end: (() => void) | null = null

  function offers(ids: string[], to: string): Offer[] {
    const session = store.session!,
      channel = session.channel[to]!
    const list: Offer[] = []
    if (channel.kind === 'bus') {
      const feed = gestures.feedEdit(ids, to),
        send = gestures.sendEdit(ids, to, 'post')
      list.push({ verb: 'feed', label: 'feed', refused: gestures.refusal(feed), run: () => gestures.feedTo(ids, to) })
      list.push({
        verb: 'send',
        label: 'send',
        refused: gestures.refusal(send),
        run: () => gestures.addSend(ids, to, 'post')
      })
    }
    for (const slot of slotsOf(session, to)) {
      if (!PROCESSORS[slot.processor]?.keyed) continue
      list.push({
        verb: `key ${slot.id}`,
        label: `key of ${slotLabel(slot.processor).toLowerCase()}`,
        refused: gestures.refusal(gestures.keyEdit(ids, slot.id)),
        run: () => gestures.addKey(ids, slot.id)
      })
    }
    if (!list.length)
      list.push({
        verb: 'none',
        label: 'nothing',
        refused: `“${channel.name}” is a track without a key input: it takes no feeds`,
        run() {}
      })
    return list
  }

  function begin(e: PointerEvent, id: string): void {
    const box = area.value!.getBoundingClientRect(),
      start = startOf(id)
    if (!start) return
    const ids = selection.actOn(id)
    const move = (m: PointerEvent) => {
      drawing.value = { start, at: { x: m.clientX - box.left, y: m.clientY - box.top } }
      const under = document.elementsFromPoint(m.clientX, m.clientY)
      const offer = under.find(el => (el as HTMLElement).dataset?.offer)
      if (offer && target.value) {
        target.value = { ...target.value, chosen: (offer as HTMLElement).dataset.offer! }
        return
      }
      const strip = under.map(el => el.closest<HTMLElement>('[data-channel]')).find(el => el)
      const to = strip?.dataset.channel
      if (!to || ids.includes(to)) {
        if (!under.some(el => (el as HTMLElement).dataset?.offers)) target.value = null
        return
      }
      if (target.value?.id === to) {
        target.value = { ...target.value, chosen: first(target.value.offers) }
        return
      }
      const list = offers(ids, to)
      target.value = {
        id: to,
        name: store.session!.channel[to]!.name,
        rect: strip!.getBoundingClientRect(),
        offers: list,
        chosen: first(list)
      }
    }
    const up = () => {
      end?.()
      const t = target.value
      drawing.value = target.value = null
      const offer = t?.offers.find(o => o.verb === t.chosen)
      if (offer && !offer.refused) offer.run()
    }
    const leave = (k: KeyboardEvent) => {
      if (k.key === 'Escape') {
        end?.()
        drawing.value = target.value = null
      }
    }
    window.addEventListener('pointermove', move)
    window.addEventListener('pointerup', up)
    window.addEventListener('keydown', leave)
    end = () => {
      window.removeEventListener('pointermove', move)
      window.removeEventListener('pointerup', up)
      window.removeEventListener('keydown', leave)
      end = null
    }
    move(e)
  }
  const first = (list: Offer[]) => list.find(o => !o.refused)?.verb ?? null
  onBeforeUnmount(() => end?.())
  return { drawing, target, begin }
}

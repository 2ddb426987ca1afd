// The lines of the Map, on a canvas over its strips and cut out where strips are: a canvas under them would make a
// layer of every strip, which a page without a graphics card feels.
import { computed, nextTick, onMounted, watch, type Ref } from 'vue'
import { feedClosed } from '@nullet/core/graph/closed'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useTheme } from '~/stores/theme'
import { clearCanvas, coloursOf } from '~/style/canvas'
import { drawLines, INK, type Ink, type Point } from './lines'
import type { litBy } from './lit'
import { TOP, type MapPlaces } from './mapPlaces'
import { routesOf } from './mapRoutes'

/** @param lit what the selection reaches @param drawing the line that a hand draws now */
export function useMapLines(
  canvas: Ref<HTMLCanvasElement | undefined>,
  places: MapPlaces,
  lit: Ref<ReturnType<typeof litBy>>,
  drawing: Ref<{ start: Point; at: Point } | null>
): void {
  const store = useSession(),
    selection = useSelection(),
    theme = useTheme()
  const { map, size, trackScroll, busScroll, below, mainHeight } = places
  const closed = computed(() => {
    const network = store.network!
    return new Set(network.feeds.filter(f => feedClosed(network, f)).map(f => f.id))
  })

  /** Colours of the theme, read when it changes. */
  let ink: Ink | null = null
  function draw(): void {
    const c = canvas.value
    if (!c) return
    ink ??= coloursOf(c, INK)
    const { width, height } = size.value
    const g = clearCanvas(c, width, height)
    const lines = routesOf(places, lit.value.feeds, selection.list.length > 0, closed.value)
    g.save()
    g.beginPath()
    g.rect(0, TOP - 4, width, mainHeight.value - TOP + 4)
    g.clip()
    drawLines(
      g,
      lines.filter(l => !l.straight),
      ink
    )
    g.restore()
    drawLines(
      g,
      lines.filter(l => l.straight),
      ink
    )
    for (const { x, y, width, height } of places.boxes()) g.clearRect(x, y, width, height)
    if (!drawing.value) return
    g.strokeStyle = ink.send
    g.lineWidth = 2
    g.beginPath()
    g.moveTo(drawing.value.start.x, drawing.value.start.y)
    g.lineTo(drawing.value.at.x, drawing.value.at.y)
    g.stroke()
  }

  watch([map, size, trackScroll, busScroll, lit, below, drawing], () => nextTick(draw), { flush: 'post' })
  watch(
    () => theme.name,
    () => {
      ink = null
      void nextTick(draw)
    },
    { flush: 'post' }
  )
  onMounted(() => void document.fonts.ready.then(draw))
}

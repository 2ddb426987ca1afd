// The lines of the Map, in the three parts that scroll in different ways.
import { computed, type Ref } from 'vue'
import { sameMap } from '@nullet/core/foundation/lists'
import { feedClosed } from '@nullet/core/graph/closed'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { feedLabels, sameLines, type Drawn } from './lines'
import type { litBy } from './lit'
import { TOP, type MapPlaces } from './mapPlaces'
import { inBelow, inColumns, inGutter, type Regions } from './mapRegions'
import { routesOf } from './mapRoutes'

/** Lines begin so far above the first strips, px. */
const ABOVE = 4

/** @param lit what the selection reaches */
export function useMapLines(places: MapPlaces, lit: Ref<ReturnType<typeof litBy>>) {
  const store = useSession(),
    selection = useSelection()
  const { columnX, widthOf, columns, size, mainHeight, busScroll, busGround } = places
  const closed = computed(() => {
    const network = store.wiring!
    return new Set(network.feeds.filter(f => feedClosed(network, f)).map(f => f.id))
  })
  const regions = computed<Regions>(() => ({
    gutter: { left: columnX(0) + widthOf(0), right: columns.value.length > 1 ? columnX(1) : size.value.width },
    top: TOP - ABOVE,
    below: mainHeight.value,
    busScroll: busScroll.value,
    busHeight: Math.max(busGround.value, mainHeight.value)
  }))
  const labels = computed<ReadonlyMap<string, string>>(before => {
    const now = feedLabels([...lit.value.feeds].map(id => store.session!.feed[id]))
    return before && sameMap(now, before) ? before : now
  })
  const lines = computed(() => routesOf(places, lit.value.feeds, selection.list.length > 0, closed.value, labels.value))
  const within = (part: (line: Drawn, regions: Regions) => Drawn[]) =>
    computed<readonly Drawn[]>(before => {
      const now = lines.value.flatMap(line => part(line, regions.value))
      return before && sameLines(now, before) ? before : now
    })
  return { regions, gutter: within(inGutter), columns: within(inColumns), below: within(inBelow) }
}

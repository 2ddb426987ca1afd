// Where everything on the Map lies: its columns, how far they are scrolled, the row of returns and loops, and the ends
// of strips that lines reach.
import { computed, ref, shallowRef } from 'vue'
import { mapLayout, type Strip } from '@nullet/core/graph/mapLayout'
import { LOOP } from '@nullet/core/processors/table'
import { byOrder, rows } from '@nullet/core/session/session'
import { matching } from '~/session/matching'
import { useFolding } from '~/stores/folding'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import type { Point } from './lines'
import { LEFT, mapColumns } from './mapColumns'

export const TOP = 26,
  RETURN_HEAD = 22,
  BELOW_WIDTH = 188
const GAP = 3,
  LANE = 8,
  BELOW_GAP = 40,
  ROOM_BELOW = 8,
  /** Out of sight, but about to come. */
  NEAR = 100

/** A return, or a loop that is in a slot of a channel. */
export interface Below {
  key: string
  x: number
  y: number
  channel?: string
  loop?: string
  on?: string
}

export type MapPlaces = ReturnType<typeof useMapPlaces>

export function useMapPlaces() {
  const store = useSession(),
    folding = useFolding(),
    selection = useSelection(),
    shell = useShell()
  const rowHeight = computed(() => (shell.compact ? 20 : 32))
  const size = shallowRef({ width: 900, height: 500 })
  /** How far the column of tracks and the columns of buses are scrolled. */
  const trackScroll = ref(0),
    busScroll = ref(0)

  const wired = () => store.wiring!
  const only = computed(() => {
    const found = matching(wired().session, selection.filter)
    if (!found) return folding.shown(null)
    // What is found keeps where it goes, so that lines have an end.
    return wired().reach(found, id =>
      wired()
        .next(id)
        .map(f => f.to)
    )
  })
  const isShown = (id: string) => !only.value || only.value.has(id)

  const below = computed<Below[]>(() => {
    const perRow = Math.max(1, Math.floor((size.value.width - LEFT) / (BELOW_WIDTH + BELOW_GAP)))
    const returns = rows(wired().session, 'channel')
      .filter(c => c.role === 'return' && isShown(c.id))
      .sort(byOrder)
      .map(c => ({ key: c.id, channel: c.id }))
    const loops = rows(wired().session, 'slot')
      .filter(s => s.processor === LOOP && s.loop && isShown(s.channel))
      .map(s => ({ key: s.id, loop: s.loop!, on: s.channel }))
    return [...returns, ...loops].map((item, i) => ({
      ...item,
      x: LEFT + BELOW_GAP + (i % perRow) * (BELOW_WIDTH + BELOW_GAP),
      y: RETURN_HEAD + Math.floor(i / perRow) * (rowHeight.value + 12)
    }))
  })
  const belowHeight = computed(() => (below.value.length ? below.value.at(-1)!.y + rowHeight.value + 16 : 0))
  const mainHeight = computed(() => size.value.height - belowHeight.value)

  const map = computed(() =>
    mapLayout(wired(), {
      folded: folding.folded,
      only: only.value,
      row: rowHeight.value,
      gap: GAP,
      lane: LANE,
      fit: mainHeight.value - TOP - 12
    })
  )
  /** What is scrolled. */
  const trackGround = computed(() => map.value.trackHeight + TOP + ROOM_BELOW),
    busGround = computed(() => map.value.busHeight + TOP + ROOM_BELOW)
  const focusColumn = computed(
    () => map.value.strips.find(s => (s.members ?? [s.id]).includes(selection.focused ?? ''))?.column ?? null
  )
  const columns = computed(() => mapColumns(map.value.columns.length, size.value.width, focusColumn.value))
  const columnX = (column: number) => columns.value[column]?.x ?? LEFT
  const widthOf = (column: number) => columns.value[column]?.width ?? 0
  /** Room between a column and the next. */
  const gutterOf = (column: number) =>
    (columns.value[column + 1]?.x ?? size.value.width) - columnX(column) - widthOf(column)

  const strips = computed(() => new Map(map.value.strips.map(s => [s.id, s])))
  const belows = computed(() => new Map(below.value.flatMap(b => (b.channel ? [[b.channel, b] as const] : []))))
  const scrollOf = (s: { column: number }) => (s.column === 0 ? trackScroll.value : busScroll.value)
  const visible = () =>
    map.value.strips.filter(
      s => s.y + rowHeight.value > scrollOf(s) - NEAR && s.y < scrollOf(s) + size.value.height + NEAR
    )
  const screenY = (s: Strip) => TOP + s.y - scrollOf(s) + rowHeight.value / 2
  const isOnScreen = (s: Strip) =>
    screenY(s) > TOP - rowHeight.value / 2 && screenY(s) < mainHeight.value + rowHeight.value / 2
  const belowY = (b: Below) => mainHeight.value + b.y + rowHeight.value / 2

  function right(id: string): Point | null {
    const s = strips.value.get(id)
    if (s) return { x: columnX(s.column) + widthOf(s.column), y: screenY(s) }
    const b = belows.value.get(id)
    return b ? { x: b.x + BELOW_WIDTH, y: belowY(b), low: true } : null
  }
  function left(id: string): Point | null {
    const s = strips.value.get(id)
    if (s) return { x: columnX(s.column), y: screenY(s) }
    const b = belows.value.get(id)
    return b ? { x: b.x, y: belowY(b), low: true } : null
  }
  /** As one reads: column by column from above, then the returns. */
  const order = computed(() =>
    [...map.value.strips]
      .sort((a, b) => a.column - b.column || a.y - b.y)
      .map(s => s.id)
      .concat([...belows.value.keys()])
  )

  return {
    rowHeight,
    size,
    trackScroll,
    busScroll,
    below,
    belowHeight,
    mainHeight,
    map,
    trackGround,
    busGround,
    columns,
    columnX,
    widthOf,
    gutterOf,
    strips,
    belows,
    visible,
    isOnScreen,
    right,
    left,
    order
  }
}

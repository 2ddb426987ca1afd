<script setup lang="ts">
// The Map: strips placed by the program, feeds drawn between them, returns and loops in a row of their own. It is one
// Tab stop: arrows move inside.
import { computed, onBeforeUnmount, onMounted, provide, ref, watch } from 'vue'
import { useChecks } from '~/stores/checks'
import { useShown } from '~/keyboard/shown'
import { whenIdle } from '~/session/whenIdle'
import { plural } from '~/words/format'
import { useFolding } from '~/stores/folding'
import { useGestures } from '~/stores/gestures'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useStrips } from '~/stores/strips'
import { useTransport } from '~/stores/transport'
import { useWhereLeft } from '~/stores/whereLeft'
import { useFeedDrawing } from './feedDrawing'
import { wayOf } from './lines'
import { sameList } from '@nullet/core/foundation/lists'
import { litBy } from './lit'
import { MAP, type Held } from './mapHands'
import { isArrow, neighbour } from './mapKeys'
import { useMapLines } from './mapLines'
import { BELOW_WIDTH, TOP, useMapPlaces } from './mapPlaces'
import { Resting } from './resting'

const store = useSession(),
  whereLeft = useWhereLeft(),
  checks = useChecks(),
  selection = useSelection(),
  shell = useShell(),
  transport = useTransport(),
  strips = useStrips(),
  folding = useFolding(),
  gestures = useGestures()
const area = ref<HTMLElement>(),
  trackScroller = ref<HTMLElement>(),
  busScroller = ref<HTMLElement>()
const places = useMapPlaces()
const {
  map,
  size,
  trackScroll,
  busScroll,
  below,
  belowHeight,
  mainHeight,
  trackGround,
  busGround,
  columns,
  columnX,
  widthOf
} = places
const SCROLLED = { tracks: trackScroll, buses: busScroll }
function scrolled(e: Event, which: keyof typeof SCROLLED): void {
  SCROLLED[which].value = (e.target as HTMLElement).scrollTop
  transport.moreToDo()
}
const stretch = (from: number) => ({ top: from, bottom: from + mainHeight.value })
const tracksInSight = () => stretch(trackScroll.value),
  busesInSight = () => stretch(busScroll.value)
const lit = computed(() => litBy(store.wiring!, selection.list))
const checked = computed(() => new Set(checks.findings.flatMap(f => f.about)))
const isDimmed = (ids: readonly string[]) => selection.list.length > 0 && !ids.some(id => lit.value.channels.has(id))

const resting = new Resting(whenIdle)
/** In sight, or nearly. */
const near = computed<string[]>(before => {
  const now = places.visible().map(s => s.id)
  return before && sameList(now, before) ? before : now
})
const all = computed(() => map.value.strips.map(s => s.id))
watch([all, near], () => resting.see(all.value, new Set(near.value)), { immediate: true })
watch([() => store.session, lit, checked, columns], () => resting.changed())
const made = computed(() => map.value.strips.filter(s => resting.made.value.has(s.id)))
const tracks = computed(() => made.value.filter(s => s.column === 0)),
  buses = computed(() => made.value.filter(s => s.column > 0))

const { drawing, target, begin } = useFeedDrawing(area, places.right)
const lines = useMapLines(places, lit)
const { regions } = lines

let observer: ResizeObserver | null = null
onMounted(() => {
  observer = new ResizeObserver(() => {
    size.value = { width: area.value!.clientWidth, height: area.value!.clientHeight }
  })
  observer.observe(area.value!)
  whereLeft.keepScroll('tracks', trackScroller.value!)
  whereLeft.keepScroll('buses', busScroller.value!)
})
onBeforeUnmount(() => observer?.disconnect())

type Bundle = (typeof map.value)['bundles'][number]
const bundleOf = (id: string) => map.value.bundles.find(b => b.members.includes(id))!
const bundleTitle = (b: Bundle) =>
  `${b.folded ? 'unfold' : 'fold'}: ${b.members.length} tracks that feed ${store.session!.channel[b.to]?.name}`

function pick(s: { id: string; members?: readonly string[] }, e: Held): void {
  if (s.members && s.members.length > 1) {
    const own = s.members
    selection.set(e.shiftKey || e.ctrlKey || e.metaKey ? [...selection.ids, ...own] : own, own[0]!)
  } else selection.click(s.id, e, places.order.value)
}
function open(id: string): void {
  shell.railOf = id
}

provide(MAP, {
  places,
  resting,
  dimmed: isDimmed,
  checked: id => checked.value.has(id),
  pick,
  open,
  unfold: id => folding.toggle(bundleOf(id).to),
  draw: begin
})

/** The boxes of strips are placed here, where one resting out of sight is placed too. */
const at = (x: number, y: number, width: number) =>
  `left: ${x}px; top: ${y}px; width: ${width}px; height: ${places.rowHeight.value}px`
const placed = (s: { column: number; y: number }, from = 0) =>
  at(columnX(s.column) - from, TOP + s.y, widthOf(s.column))

useShown(() => places.order.value.flatMap(id => places.strips.value.get(id)?.members ?? [id]))

/** A strip for the focus to be announced on; a folded bundle stands for its tracks. */
const stripOf = (id: string | null) =>
  map.value.strips.find(s => s.id === id || s.members?.includes(id ?? '')) ?? (id ? { id } : undefined)
function arrow(e: KeyboardEvent): void {
  const next = stripOf(neighbour(places, selection.focused, e.key) ?? null)
  if (!next) return
  if (e.ctrlKey || e.metaKey) selection.moveFocus(next.id)
  else pick(next, { shiftKey: e.shiftKey })
  reveal(next.id)
}
/** The focus shows on a strip, never on the Map. */
function entered(): void {
  const first = map.value.strips[0]
  if (!selection.focused && first && area.value!.matches(':focus-visible')) selection.moveFocus(first.id)
}
const LEVEL_KEYS: Record<string, number> = { ArrowUp: 0.5, ArrowDown: -0.5, PageUp: 3, PageDown: -3 }
function key(e: KeyboardEvent): void {
  const held = e.ctrlKey || e.metaKey
  if (held && e.key === ' ' && selection.focused) pick(stripOf(selection.focused)!, { ctrlKey: true })
  else if (e.altKey && LEVEL_KEYS[e.key]) strips.nudge(selection.list, LEVEL_KEYS[e.key]!)
  else if (isArrow(e.key) && !e.altKey) arrow(e)
  else return
  e.preventDefault()
}
/** Goes by how far one is known to have scrolled: asking the page would lay it out in the middle of a change. */
function reveal(id: string): void {
  const s = map.value.strips.find(s => s.id === id || s.members?.includes(id))
  if (!s) return
  const [scroller, scroll] = s.column === 0 ? [trackScroller, trackScroll] : [busScroller, busScroll]
  const view = mainHeight.value - TOP,
    row = places.rowHeight.value
  const to = s.y < scroll.value ? s.y - 20 : s.y + row > scroll.value + view ? s.y + row - view + 20 : scroll.value
  if (to === scroll.value || !scroller.value) return
  scroller.value.scrollTop = to
  scroll.value = scroller.value.scrollTop
}
/** What is selected stays in sight when a panel takes room from the Map. */
watch(
  [() => selection.focused, mainHeight],
  ([id]) => {
    if (id && shell.follows) reveal(id)
  },
  { flush: 'post' }
)

/** A slot of the Rail that is dropped on a strip. */
function dropped(e: DragEvent): void {
  const id = shell.draggedSlot,
    to = (e.target as HTMLElement).closest<HTMLElement>('[data-channel]')?.dataset.channel
  shell.draggedSlot = null
  if (id && to && to !== store.session!.slot[id]?.channel) void gestures.dropSlot(id, to)
}
function openLoop(slot: string, channel: string): void {
  selection.set([channel], channel)
  shell.railOf = channel
  shell.openSlot = slot
}
</script>

<template>
  <div
    ref="area"
    class="map"
    tabindex="0"
    role="group"
    aria-label="network map: arrows move, Enter opens the rail"
    :aria-activedescendant="selection.focused ? `strip ${stripOf(selection.focused)?.id}` : undefined"
    data-home
    @keydown="key"
    @focus="entered"
    @dragover.prevent
    @drop="dropped"
    @pointerdown.self="selection.clear()"
  >
    <div
      ref="busScroller"
      class="scroll side"
      :style="{ left: `${columnX(1) - 20}px`, height: `${mainHeight}px` }"
      @scroll="scrolled($event, 'buses')"
      @pointerdown.self="selection.clear()"
    >
      <LevelGround
        :style="{
          height: `${busGround}px`,
          width: `${columnX(map.columns.length - 1) + widthOf(map.columns.length - 1) - columnX(1) + 30}px`
        }"
        class="ground"
        :sight="busesInSight"
        @pointerdown.self="selection.clear()"
      >
        <FeedLines :lines="lines.columns" class="behind columns" />
        <div v-for="s in buses" :key="s.id" class="placed" :style="placed(s, columnX(1) - 20)">
          <MapStrip :id="s.id" />
        </div>
      </LevelGround>
    </div>
    <div
      ref="trackScroller"
      class="scroll side"
      :style="{ width: `${columnX(0) + widthOf(0) + 16}px`, height: `${mainHeight}px` }"
      @scroll="scrolled($event, 'tracks')"
      @pointerdown.self="selection.clear()"
    >
      <LevelGround
        :style="{ height: `${trackGround}px` }"
        class="ground"
        :sight="tracksInSight"
        @pointerdown.self="selection.clear()"
      >
        <template v-for="(b, i) in map.bundles" :key="`b${i}`">
          <button
            v-if="b.to && b.members.length > 1"
            class="plain bracket"
            tabindex="-1"
            :title="bundleTitle(b)"
            :style="{ top: `${TOP + b.y}px`, height: `${b.height}px` }"
            :aria-expanded="!b.folded"
            @click="folding.toggle(b.to)"
          />
        </template>
        <div v-for="s in tracks" :key="s.id" class="placed" :style="placed(s)"><MapStrip :id="s.id" /></div>
      </LevelGround>
    </div>
    <LineCanvas
      class="over"
      :lines="lines.gutter"
      :width="regions.gutter.right - regions.gutter.left"
      :height="mainHeight - regions.top"
      :style="{ left: `${regions.gutter.left}px`, top: `${regions.top}px` }"
    />
    <svg v-if="drawing" class="over hand" aria-hidden="true">
      <path :d="wayOf({ points: [drawing.start, drawing.at], straight: true })" />
    </svg>
    <div
      v-for="(c, i) in map.columns"
      :key="i"
      class="caption column"
      :style="{ left: `${columnX(i)}px`, width: `${widthOf(i)}px` }"
      :title="c.title"
    >
      <span v-if="!columns[i]?.narrow" class="clip">{{ c.title }}</span>
      <button
        v-if="i === 0 && folding.foldable.length"
        class="plain foldall"
        tabindex="-1"
        title="fold or unfold every bundle (v b)"
        data-fold-all
        @click="folding.toggleAll"
      >
        {{ folding.isAllFolded ? 'unfold all' : 'fold all' }}
      </button>
      <button
        v-if="i === 0 && folding.prints.length"
        class="plain foldall"
        tabindex="-1"
        title="hide print tracks, or show them (v i)"
        data-hide-prints
        @click="folding.togglePrints"
      >
        {{ folding.printsHidden ? `+${plural(folding.prints.length, 'print', 'prints')}` : 'hide prints' }}
      </button>
    </div>
    <LevelGround v-if="below.length" class="below" :style="{ top: `${mainHeight}px`, height: `${belowHeight}px` }">
      <LineCanvas class="behind" :lines="lines.below" :width="size.width" :height="belowHeight" />
      <span class="caption">returns and loops</span>
      <template v-for="b in below" :key="b.key">
        <div v-if="b.channel" class="placed" :style="at(b.x, b.y, BELOW_WIDTH)"><MapStrip :id="b.channel" /></div>
        <button
          v-else
          class="loop"
          tabindex="-1"
          :style="{ left: `${b.x}px`, top: `${b.y}px`, width: `${BELOW_WIDTH}px` }"
          @click="openLoop(b.key, b.on!)"
        >
          <span class="clip">Loop: {{ store.session!.loop[b.loop!]?.name }}</span
          ><span class="caption clip">on {{ store.session!.channel[b.on!]?.name }}</span>
        </button>
      </template>
    </LevelGround>
    <FeedTarget v-if="target" :target="target" />
    <div v-if="!map.strips.length" class="empty">
      <h2>{{ selection.filter ? 'Nothing of that name' : 'No channels yet' }}</h2>
      {{
        selection.filter ? 'Clear the filter to see everything.' : 'Drop audio files in Sources, then gather them here.'
      }}
    </div>
  </div>
</template>

<style scoped>
.map {
  position: relative;
  flex: 1;
  min-height: 120px;
  /* What lies in it is gone through only where it changes. */
  contain: layout paint style;
  outline: none;
}
.side {
  position: absolute;
  top: 0;
  left: 0;
  right: 0;
  overflow-x: hidden;
  scrollbar-width: none;
  contain: layout paint style;
  /* Opaque: what is under it is not painted, and it needs no blending. */
  background: var(--ground);
}
.ground {
  position: relative;
  min-width: 100%;
  min-height: 100%;
}
/* What lies in it is laid out apart. */
.placed {
  position: absolute;
  contain: layout style;
}
.over {
  position: absolute;
  pointer-events: none;
  z-index: 2;
}
.behind {
  inset: 0;
  width: 100%;
  height: 100%;
}
/* From the first column of buses on. */
.behind.columns {
  left: 20px;
}
.hand {
  inset: 0;
  width: 100%;
  height: 100%;
  fill: none;
  stroke: var(--acting);
  stroke-width: 2px;
}
.column {
  position: absolute;
  top: 0;
  height: 24px;
  line-height: 24px;
  display: flex;
  justify-content: space-between;
  background: var(--ground);
  pointer-events: none;
  z-index: 2;
}
.column .foldall {
  pointer-events: auto;
  color: var(--ink-2);
}
.bracket {
  position: absolute;
  left: 2px;
  width: 8px;
  border-left: 1px solid var(--rule);
  border-top: 1px solid var(--rule);
  border-bottom: 1px solid var(--rule);
}
.bracket:hover {
  border-color: var(--acting);
}
.below {
  position: absolute;
  left: 0;
  right: 0;
  border-top: 1px dashed var(--rule);
  background: var(--ground);
}
.below > .caption {
  position: absolute;
  left: 12px;
  top: 3px;
  z-index: 3;
  background: var(--ground);
  padding-right: 4px;
}
.loop {
  position: absolute;
  z-index: 1;
  display: grid;
  height: 32px;
  padding: 1px 8px;
  text-align: left;
  background: var(--surface);
  border: 1px solid var(--rule);
  border-left: 3px double var(--ink);
  border-radius: var(--radius);
  font-size: 12px;
  line-height: 15px;
  cursor: pointer;
}
.loop:hover {
  border-color: var(--acting);
}
.empty {
  position: absolute;
  inset: 20% 0 auto;
  pointer-events: none;
}
</style>

<script setup lang="ts">
// The Map: strips placed by the program, feeds drawn on a canvas under them, returns and loops in a row of their own.
import { computed, nextTick, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { mapLayout, type Strip } from '@nullet/core/graph/mapLayout'
import { byOrder, rows } from '@nullet/core/session/session'
import { LOOP } from '@nullet/core/processors/table'
import { dB } from '~/words/format'
import { useGestures } from '~/stores/gestures'
import { useSelection } from '~/stores/selection'
import { useChecks } from '~/stores/checks'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useTheme } from '~/stores/theme'
import { matching } from '~/session/matching'
import { mapColumns } from './mapColumns'
import { drawLines, inkOf, type Drawn, type Ink, type Point } from './lines'
import { useFeedDrawing } from './feedDrawing'
import { litBy } from './lit'

const GAP = 3,
  LANE = 8,
  TOP = 26,
  LEFT = 12,
  RETURN_HEAD = 22
const store = useSession(),
  checks = useChecks(),
  selection = useSelection(),
  shell = useShell(),
  theme = useTheme(),
  gestures = useGestures()
const area = ref<HTMLElement>(),
  canvas = ref<HTMLCanvasElement>(),
  trackScroller = ref<HTMLElement>(),
  busScroller = ref<HTMLElement>()
const ROW = computed(() => (shell.compact ? 20 : 32))
const size = shallowRef({ width: 900, height: 500 })
/** How far the column of tracks and the columns of buses are scrolled. */
const trackScroll = ref(0),
  busScroll = ref(0)
const folded = shallowRef<ReadonlySet<string>>(
  new Set(JSON.parse(localStorage.getItem(`nullet folded ${store.id}`) ?? '[]') as string[])
)
const only = computed(() => {
  const found = matching(store.session!, selection.filter)
  if (!found) return null
  // What is found keeps where it goes, so that lines have an end.
  return store.network!.reach(found, id => store.network!.next(id).map(f => f.to))
})
const returns = computed(() =>
  rows(store.session!, 'channel')
    .filter(c => c.role === 'return' && (!only.value || only.value.has(c.id)))
    .sort(byOrder)
    .map(c => c.id)
)
const mainHeight = computed(() => size.value.height - belowHeight.value)
const map = computed(() =>
  mapLayout(store.network!, {
    folded: folded.value,
    only: only.value,
    row: ROW.value,
    gap: GAP,
    lane: LANE,
    fit: mainHeight.value - TOP - 12
  })
)

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
const scrollOf = (s: { column: number }) => (s.column === 0 ? trackScroll.value : busScroll.value)
const visible = computed(() =>
  map.value.strips.filter(s => s.y + ROW.value > scrollOf(s) - 100 && s.y < scrollOf(s) + size.value.height + 100)
)
const shownTracks = computed(() => visible.value.filter(s => s.column === 0))
const shownBuses = computed(() => visible.value.filter(s => s.column > 0))

interface Below {
  key: string
  x: number
  row: number
  channel?: string
  loop?: string
  on?: string
}
/** Returns, then loops that are in a slot. */
const below = computed<Below[]>(() => {
  const perRow = Math.max(1, Math.floor((size.value.width - LEFT) / (belowWidth + 40)))
  const loops = rows(store.session!, 'slot').filter(
    s => s.processor === LOOP && s.loop && (!only.value || only.value.has(s.channel))
  )
  const list: Omit<Below, 'x' | 'row'>[] = [
    ...returns.value.map(id => ({ key: id, channel: id })),
    ...loops.map(s => ({ key: s.id, loop: s.loop!, on: s.channel }))
  ]
  return list.map((item, i) => ({
    ...item,
    x: LEFT + 40 + (i % perRow) * (belowWidth + 40),
    row: Math.floor(i / perRow)
  }))
})
const belowWidth = 188
const belowHeight = computed(() =>
  below.value.length ? RETURN_HEAD + (below.value.at(-1)!.row + 1) * (ROW.value + 12) + 4 : 0
)

const order = computed(() =>
  [...map.value.strips]
    .sort((a, b) => a.column - b.column || a.y - b.y)
    .map(s => s.id)
    .concat(returns.value)
)
const lit = computed(() => litBy(store.network!, selection.list))
const checked = computed(() => new Set(checks.findings.flatMap(f => f.about)))

// ── places on the screen ──
const screenY = (s: Strip) => TOP + s.y - scrollOf(s) + ROW.value / 2
const onScreen = (s: Strip) => screenY(s) > TOP - ROW.value / 2 && screenY(s) < mainHeight.value + ROW.value / 2
function right(id: string): Point | null {
  const s = strips.value.get(id)
  if (s) return { x: columnX(s.column) + widthOf(s.column), y: screenY(s) }
  const b = below.value.find(b => b.channel === id)
  return b ? { x: b.x + belowWidth, y: belowY(b) } : null
}
function left(id: string): Point | null {
  const s = strips.value.get(id)
  if (s) return { x: columnX(s.column), y: screenY(s) }
  const b = below.value.find(b => b.channel === id)
  return b ? { x: b.x, y: belowY(b) } : null
}
const belowY = (b: Below) => mainHeight.value + RETURN_HEAD + b.row * (ROW.value + 12) + ROW.value / 2

function drawn(): Drawn[] {
  const some = selection.list.length > 0
  const lanes = new Map<string, number>()
  const laneOf = (key: string) => {
    if (!lanes.has(key)) lanes.set(key, lanes.size)
    return lanes.get(key)!
  }
  return map.value.lines.flatMap((line): Drawn[] => {
    const a = right(line.from),
      b = left(line.to)
    if (!a || !b) return []
    const isLit = lit.value.feeds.has(line.feed.id)
    const base = {
      feed: line.feed,
      lit: isLit,
      dimmed: some && !isLit,
      straight: false,
      label: isLit && (line.feed.kind !== 'main' || line.feed.levelDb !== 0) ? dB(line.feed.levelDb) : undefined
    }
    const from = strips.value.get(line.from),
      to = strips.value.get(line.to)
    // Lines whose beginning is scrolled away are drawn only when they are asked for.
    if (from && !onScreen(from) && !isLit) return []
    if (from && to && to.column > from.column) {
      const points = [a]
      for (const via of line.via) {
        const y = TOP + via.y - busScroll.value,
          x = columnX(via.column)
        points.push({ x, y }, { x: x + widthOf(via.column), y })
      }
      return [{ ...base, points: [...points, b] }]
    }
    // Between rows, and back to where signal came from: right-angled through the gutters.
    const shift = Math.min(
      8 + (laneOf(`${line.to} ${line.feed.kind}`) % 5) * 5,
      from ? gutterOf(from.column) * 0.6 : 28
    )
    if (from && to) {
      const turn = columnX(from.column) + widthOf(from.column) + shift
      return [
        {
          ...base,
          straight: true,
          points: [a, { x: turn, y: a.y }, { x: turn, y: b.y }, { x: columnX(to.column) + widthOf(to.column), y: b.y }]
        }
      ]
    }
    if (from) {
      const turn = a.x + shift,
        level = mainHeight.value + 6 + (laneOf(line.to) % 4) * 4
      return [
        {
          ...base,
          straight: true,
          points: [
            a,
            { x: turn, y: a.y },
            { x: turn, y: level },
            { x: b.x - 8 - (laneOf(line.to) % 3) * 4, y: level },
            { x: b.x - 8 - (laneOf(line.to) % 3) * 4, y: b.y },
            b
          ]
        }
      ]
    }
    if (!to) {
      // From return to return: below the strips, so that no line runs under one.
      const low = Math.max(a.y, b.y) + ROW.value / 2 + 5,
        before = b.x - 8
      return [
        {
          ...base,
          straight: true,
          points: [a, { x: a.x + 6, y: a.y }, { x: a.x + 6, y: low }, { x: before, y: low }, { x: before, y: b.y }, b]
        }
      ]
    }
    const riseAt = columnX(to.column) - Math.min(10 + (laneOf(line.from) % 4) * 5, gutterOf(to.column - 1) * 0.6),
      level = mainHeight.value + 18 - (laneOf(line.from) % 3) * 4
    return [
      {
        ...base,
        straight: true,
        points: [
          a,
          { x: a.x + 10, y: a.y },
          { x: a.x + 10, y: level },
          { x: riseAt, y: level },
          { x: riseAt, y: b.y },
          b
        ]
      }
    ]
  })
}

/** Colours of the theme, read when it changes. */
let ink: Ink | null = null
function draw(): void {
  const c = canvas.value
  if (!c) return
  ink ??= inkOf(c)
  const ratio = devicePixelRatio
  const { width, height } = size.value
  if (c.width !== Math.round(width * ratio) || c.height !== Math.round(height * ratio)) {
    c.width = Math.round(width * ratio)
    c.height = Math.round(height * ratio)
  }
  const g = c.getContext('2d')!
  g.setTransform(ratio, 0, 0, ratio, 0, 0)
  g.clearRect(0, 0, width, height)
  const lines = drawn()
  g.save()
  g.beginPath()
  g.rect(0, TOP - 4, width, mainHeight.value - TOP + 4)
  g.clip()
  drawLines(
    g,
    lines.filter(l => !l.straight),
    ink!
  )
  g.restore()
  drawLines(
    g,
    lines.filter(l => l.straight),
    ink!
  )
  if (drawing.value) {
    g.strokeStyle = ink!.send
    g.lineWidth = 2
    g.beginPath()
    g.moveTo(drawing.value.start.x, drawing.value.start.y)
    g.lineTo(drawing.value.at.x, drawing.value.at.y)
    g.stroke()
  }
}

const { drawing, target, begin } = useFeedDrawing(area, right)
watch([map, size, trackScroll, busScroll, lit, below, drawing], () => nextTick(draw), { flush: 'post' })
watch(
  () => theme.name,
  () => {
    ink = null
    void nextTick(draw)
  },
  { flush: 'post' }
)

let observer: ResizeObserver | null = null
onMounted(() => {
  observer = new ResizeObserver(() => {
    size.value = { width: area.value!.clientWidth, height: area.value!.clientHeight }
  })
  observer.observe(area.value!)
  void document.fonts.ready.then(draw)
})
onBeforeUnmount(() => observer?.disconnect())

function fold(to: string): void {
  const next = new Set(folded.value)
  if (!next.delete(to)) next.add(to)
  folded.value = next
  localStorage.setItem(`nullet folded ${store.id}`, JSON.stringify([...next]))
}
type Bundle = (typeof map.value)['bundles'][number]
const bundleTitle = (b: Bundle) =>
  `${b.folded ? 'unfold' : 'fold'}: ${b.members.length} tracks that feed ${store.session!.channel[b.to]?.name}`
const foldable = computed(() => map.value.bundles.filter(b => b.members.length > 1 && b.to))
function foldAll(): void {
  const all = foldable.value.every(b => b.folded)
  folded.value = all ? new Set() : new Set(foldable.value.map(b => b.to))
  localStorage.setItem(`nullet folded ${store.id}`, JSON.stringify([...folded.value]))
}

function pick(s: { id: string; members?: string[] }, e: MouseEvent): void {
  if (s.members && s.members.length > 1) {
    const own = s.members
    selection.set(e.shiftKey || e.ctrlKey || e.metaKey ? [...selection.ids, ...own] : own, own[0]!)
  } else selection.click(s.id, e, order.value)
}
function open(id: string): void {
  shell.railOf = id
}

function key(e: KeyboardEvent): void {
  if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'a') {
    e.preventDefault()
    selection.set(
      map.value.strips.flatMap(s => s.members ?? [s.id]),
      selection.focus
    )
    return
  }
  const step = { ArrowDown: [0, 1], ArrowUp: [0, -1], ArrowRight: [1, 0], ArrowLeft: [-1, 0] }[e.key]
  if (!step) return
  e.preventDefault()
  const here = strips.value.get(selection.focused ?? '') ?? map.value.strips[0]
  if (!here) return
  const near = map.value.strips
    .filter(s => s.column === here.column + step[0]!)
    .sort((a, b) => (step[1] ? a.y - b.y : Math.abs(a.y - here.y) - Math.abs(b.y - here.y)))
  const next = step[1] ? near[near.findIndex(s => s.id === here.id) + step[1]!] : near[0]
  if (next) {
    selection.click(next.id, e.shiftKey ? { shiftKey: true } : {}, order.value)
    reveal(next.id)
  }
}
function reveal(id: string): void {
  const s = strips.value.get(id)
  const scroller = s?.column === 0 ? trackScroller.value : busScroller.value
  if (!s || !scroller) return
  const view = mainHeight.value - TOP
  if (s.y < scroller.scrollTop) scroller.scrollTop = s.y - 20
  else if (s.y + ROW.value > scroller.scrollTop + view) scroller.scrollTop = s.y + ROW.value - view + 20
}
watch(
  () => selection.focused,
  id => {
    if (id && shell.follows) reveal(id)
  }
)

/** A slot of the Rail that is dropped on a strip. */
function dropped(e: DragEvent): void {
  const id = shell.draggedSlot,
    to = (e.target as HTMLElement).closest<HTMLElement>('[data-channel]')?.dataset.channel
  shell.draggedSlot = null
  if (id && to && to !== store.session!.slot[id]?.channel) void gestures.dropSlot(id, to)
}
</script>

<template>
  <div
    ref="area"
    class="map"
    tabindex="0"
    role="group"
    aria-label="network map: arrows move, Enter opens the rail"
    data-home
    @keydown="key"
    @dragover.prevent
    @drop="dropped"
    @pointerdown.self="selection.clear()"
  >
    <div
      ref="busScroller"
      class="scroll side"
      :style="{ left: `${columnX(1) - 20}px`, height: `${mainHeight}px` }"
      @scroll="busScroll = ($event.target as HTMLElement).scrollTop"
      @pointerdown.self="selection.clear()"
    >
      <div
        :style="{
          height: `${map.busHeight + TOP + 8}px`,
          width: `${columnX(map.columns.length - 1) + widthOf(map.columns.length - 1) - columnX(1) + 30}px`
        }"
        class="ground"
        @pointerdown.self="selection.clear()"
      >
        <ChannelStrip
          v-for="s in shownBuses"
          :id="s.id"
          :key="s.id"
          class="placed"
          :checked="checked.has(s.id)"
          :dimmed="selection.list.length > 0 && !lit.channels.has(s.id)"
          :style="{
            left: `${columnX(s.column) - columnX(1) + 20}px`,
            top: `${TOP + s.y}px`,
            width: `${widthOf(s.column)}px`
          }"
          :narrow="columns[s.column]?.narrow"
          @pick="pick(s, $event)"
          @open="open(s.id)"
          @draw="begin($event, s.id)"
        />
      </div>
    </div>
    <div
      ref="trackScroller"
      class="scroll side"
      :style="{ width: `${columnX(0) + widthOf(0) + 16}px`, height: `${mainHeight}px` }"
      @scroll="trackScroll = ($event.target as HTMLElement).scrollTop"
      @pointerdown.self="selection.clear()"
    >
      <div :style="{ height: `${map.trackHeight + TOP + 8}px` }" class="ground" @pointerdown.self="selection.clear()">
        <template v-for="(b, i) in map.bundles" :key="`b${i}`">
          <button
            v-if="b.to && b.members.length > 1"
            class="plain bracket"
            :title="bundleTitle(b)"
            :style="{ top: `${TOP + b.y}px`, height: `${b.height}px` }"
            :aria-expanded="!b.folded"
            @click="fold(b.to)"
          />
        </template>
        <ChannelStrip
          v-for="s in shownTracks"
          :id="s.id"
          :key="s.id"
          class="placed"
          :count="s.count"
          :members="s.members"
          :checked="checked.has(s.id)"
          :dimmed="selection.list.length > 0 && !(s.members ?? [s.id]).some(m => lit.channels.has(m))"
          :style="{ left: `${columnX(0)}px`, top: `${TOP + s.y}px`, width: `${widthOf(0)}px` }"
          @pick="pick(s, $event)"
          @unfold="fold(map.bundles.find(b => b.members.includes(s.id))!.to)"
          @open="open(s.id)"
          @draw="begin($event, s.id)"
        />
      </div>
    </div>
    <div
      v-for="(c, i) in map.columns"
      :key="i"
      class="caption column"
      :style="{ left: `${columnX(i)}px`, width: `${widthOf(i)}px` }"
      :title="c.title"
    >
      <span v-if="!columns[i]?.narrow" class="clip">{{ c.title }}</span>
      <button v-if="i === 0 && foldable.length" class="plain foldall" @click="foldAll">
        {{ foldable.every(b => b.folded) ? 'unfold all' : 'fold all' }}
      </button>
    </div>
    <div v-if="below.length" class="below" :style="{ top: `${mainHeight}px`, height: `${belowHeight}px` }">
      <span class="caption">returns and loops</span>
      <template v-for="b in below" :key="b.key">
        <ChannelStrip
          v-if="b.channel"
          :id="b.channel"
          class="placed"
          :checked="checked.has(b.channel)"
          :dimmed="selection.list.length > 0 && !lit.channels.has(b.channel)"
          :style="{ left: `${b.x}px`, top: `${RETURN_HEAD + b.row * (ROW + 12)}px`, width: `${belowWidth}px` }"
          @pick="pick({ id: b.channel }, $event)"
          @open="open(b.channel!)"
          @draw="begin($event, b.channel!)"
        />
        <button
          v-else
          class="placed loop"
          :style="{ left: `${b.x}px`, top: `${RETURN_HEAD + b.row * (ROW + 12)}px`, width: `${belowWidth}px` }"
          @click="
            () => {
              selection.set([b.on!], b.on!)
              shell.railOf = b.on!
              shell.openSlot = b.key
            }
          "
        >
          <span class="clip">Loop: {{ store.session!.loop[b.loop!]?.name }}</span
          ><span class="caption clip">on {{ store.session!.channel[b.on!]?.name }}</span>
        </button>
      </template>
    </div>
    <canvas ref="canvas" :style="{ width: `${size.width}px`, height: `${size.height}px` }" aria-hidden="true" />
    <FeedTarget v-if="target" :target="target" />
    <div v-if="!map.strips.length" class="empty over">
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
  overflow: hidden;
  outline-offset: -2px;
}
.side {
  position: absolute;
  top: 0;
  left: 0;
  right: 0;
  overflow-x: hidden;
  scrollbar-width: none;
}
.ground {
  position: relative;
  min-width: 100%;
}
canvas {
  position: absolute;
  inset: 0;
  pointer-events: none;
}
.placed {
  position: absolute;
  z-index: 1;
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
  z-index: 1;
  background: var(--ground);
  padding-right: 4px;
}
.loop {
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
.over {
  position: absolute;
  inset: 20% 0 auto;
  pointer-events: none;
}
</style>

<script setup lang="ts">
// An envelope drawn over a waveform, and edited there: press to add a point, drag it, arrows move it, Delete takes it
// out.
import { computed, nextTick, onBeforeUnmount, onMounted, ref, shallowRef } from 'vue'
import { pointBefore, readerOf, spliced, valueAt } from '@nullet/core/movement/envelope'
import { thin } from '@nullet/core/movement/thin'
import type { Moving } from '@nullet/core/movement/targets'
import type { EnvelopePoint } from '@nullet/core/session/rows'
import { placeOf, spoken, stepped, valueAt as valueAtPlace, type Quantity } from '~/numbers/quantity'
import { time } from '~/words/format'

const props = defineProps<{
  points: readonly EnvelopePoint[]
  on: boolean
  moving: Moving
  quantity: Quantity
  rate: number
  from: number
  to: number
  tool: 'points' | 'draw'
  /** Where it plays, in frames. */ at: number
  /** The place for a frame that a hand points at. */ snap: (frame: number) => number
}>()
const emit = defineEmits<{
  move: [points: EnvelopePoint[]]
  done: [points: EnvelopePoint[]]
  type: [index: number]
  zoom: [factor: number, about: number]
  scroll: [frames: number]
}>()

/** More handles than this in sight would only hide the line. */
const MOST_HANDLES = 300
const box = ref<SVGSVGElement>()
const width = ref(600),
  height = ref(72)
let observer: ResizeObserver | null = null
onMounted(() => {
  observer = new ResizeObserver(() => {
    width.value = box.value!.clientWidth
    height.value = box.value!.clientHeight
  })
  observer.observe(box.value!)
})
onBeforeUnmount(() => {
  observer?.disconnect()
  leave?.()
})

const draft = shallowRef<EnvelopePoint[] | null>(null)
const held = ref(-1)
const points = computed(() => draft.value ?? props.points)
const xOf = (frame: number) => ((frame - props.from) / (props.to - props.from)) * width.value
const yOf = (value: number | null) => height.value - 3 - placeOf(props.quantity, value) * (height.value - 6)
const frameAt = (x: number) => Math.max(0, Math.round(props.from + (x / width.value) * (props.to - props.from)))
const valueAtY = (y: number) => valueAtPlace(props.quantity, (height.value - 3 - y) / (height.value - 6))

/** The line, exact at every second pixel and at every point in sight. */
const line = computed(() => {
  const list = points.value
  if (!list.length) return `M0 ${yOf(props.moving.rest)}H${width.value}`
  const at: [number, number][] = [],
    read = readerOf(list, props.moving.law)
  for (let x = 0; x <= width.value; x += 2)
    at.push([x, yOf(read(props.from + (x / width.value) * (props.to - props.from)))])
  for (const [frame, value] of list) if (frame >= props.from && frame <= props.to) at.push([xOf(frame), yOf(value)])
  // Sorting is stable: two points at one frame keep their order and make the step.
  return `M${at
    .sort((a, b) => a[0] - b[0])
    .map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`)
    .join('L')}`
})
const handles = computed(() =>
  points.value
    .map(([frame, value], i) => ({ i, frame, value }))
    .filter(p => p.frame >= props.from && p.frame <= props.to)
)
const shownHandles = computed(() => (handles.value.length > MOST_HANDLES ? [] : handles.value))
const readout = computed(() => {
  const p = points.value[held.value]
  return p ? `${time(p[0], props.rate)}  ${spoken(props.quantity, p[1])}` : ''
})

let leave: (() => void) | null = null
function follow(e: PointerEvent, onMove: (m: PointerEvent) => void): void {
  const el = box.value!
  el.setPointerCapture(e.pointerId)
  const up = () => {
    leave?.()
    if (draft.value) emit('done', draft.value)
    draft.value = null
  }
  el.addEventListener('pointermove', onMove)
  el.addEventListener('pointerup', up)
  leave = () => {
    el.removeEventListener('pointermove', onMove)
    el.removeEventListener('pointerup', up)
    leave = null
  }
}
const place = (m: { clientX: number; clientY: number }) => {
  const r = box.value!.getBoundingClientRect()
  return { x: m.clientX - r.left, y: m.clientY - r.top }
}

function grab(e: PointerEvent, i: number): void {
  held.value = i
  const start = [...points.value]
  ;(e.target as SVGElement).focus()
  follow(e, m => {
    const { x, y } = place(m)
    // A point stays between its neighbours.
    const frame = Math.max(start[i - 1]?.[0] ?? 0, Math.min(start[i + 1]?.[0] ?? Infinity, props.snap(frameAt(x))))
    draft.value = start.with(i, [frame, valueAtY(y)])
    emit('move', draft.value)
  })
}

function down(e: PointerEvent): void {
  if (e.button !== 0) return
  const { x, y } = place(e)
  if (props.tool === 'draw') return draw(e)
  const frame = props.snap(frameAt(x)),
    i = pointBefore(points.value, frame) + 1
  draft.value = [...points.value.slice(0, i), [frame, valueAtY(y)], ...points.value.slice(i)]
  emit('move', draft.value)
  grab(e, i)
}

function draw(e: PointerEvent): void {
  const drawn: EnvelopePoint[] = []
  const old = points.value.length ? points.value : [[0, props.moving.rest] as EnvelopePoint]
  const put = (m: PointerEvent) => {
    const { x, y } = place(m),
      frame = frameAt(x)
    if (!drawn.length || frame > drawn.at(-1)![0]) drawn.push([frame, valueAtY(y)])
    draft.value = spliced(old, thin(drawn, props.moving.tolerance, props.moving.law), props.moving.law)
    emit('move', draft.value)
  }
  put(e)
  follow(e, put)
}

function key(e: KeyboardEvent, i: number): void {
  const list = [...points.value],
    [frame, value] = list[i]!
  const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key]
  if (e.key === 'Delete' || e.key === 'Backspace') list.splice(i, 1)
  else if (e.key === 'ArrowUp' || e.key === 'ArrowDown')
    list[i] = [frame, stepped(props.quantity, value, e.key === 'ArrowUp' ? 1 : -1)]
  else if (by)
    list[i] = [
      Math.max(
        list[i - 1]?.[0] ?? 0,
        Math.min(list[i + 1]?.[0] ?? Infinity, frame + by * Math.round(props.rate / 100))
      ),
      value
    ]
  else if (e.key === 'Enter') {
    e.preventDefault()
    e.stopPropagation()
    emit('type', i)
    return
  } else return
  e.preventDefault()
  e.stopPropagation()
  held.value = i
  emit('done', list)
}

/** Enter adds a point where it plays, on the line as it is; the point has the focus then. */
function laneKey(e: KeyboardEvent): void {
  if (e.key !== 'Enter') return
  e.preventDefault()
  e.stopPropagation()
  const frame = props.snap(Math.round(props.at)),
    i = pointBefore(points.value, frame) + 1
  const value = points.value.length ? valueAt(points.value, frame, props.moving.law) : props.moving.rest
  emit('done', [...points.value.slice(0, i), [frame, value], ...points.value.slice(i)])
  void nextTick(() =>
    box.value?.querySelectorAll<SVGElement>('[data-point]')[handles.value.findIndex(h => h.i === i)]?.focus()
  )
}

function wheel(e: WheelEvent): void {
  const { x } = place(e),
    span = props.to - props.from
  if (e.ctrlKey) {
    e.preventDefault()
    emit('zoom', 1.2 ** Math.sign(e.deltaY), props.from + (x / width.value) * span)
  } else if (Math.abs(e.deltaX) > Math.abs(e.deltaY)) {
    e.preventDefault()
    emit('scroll', (e.deltaX / width.value) * span)
  }
}
</script>

<template>
  <svg
    ref="box"
    class="lane"
    :class="{ off: !on, draw: tool === 'draw' }"
    role="group"
    :aria-label="quantity.label"
    data-lane
    tabindex="0"
    @pointerdown.left.prevent="down"
    @keydown.self="laneKey"
    @wheel="wheel"
  >
    <text class="edge" :x="width - 4" y="11">{{ spoken(quantity, moving.max) }}</text>
    <text class="edge" :x="width - 4" :y="height - 4">
      {{ spoken(quantity, moving.law === 'db' ? null : moving.min) }}
    </text>
    <path class="rest" :d="`M0 ${yOf(moving.law === 'db' ? 0 : moving.rest)}H${width}`" />
    <path class="line" :class="{ none: !points.length }" :d="line" />
    <circle
      v-for="p in shownHandles"
      :key="p.i"
      :cx="xOf(p.frame)"
      :cy="yOf(p.value)"
      r="4"
      tabindex="0"
      role="slider"
      data-point
      :class="{ held: p.i === held }"
      :aria-label="`point at ${time(p.frame, rate)}`"
      :aria-valuenow="p.value ?? undefined"
      :aria-valuetext="spoken(quantity, p.value)"
      @pointerdown.left.stop.prevent="grab($event, p.i)"
      @dblclick.stop="emit('type', p.i)"
      @focus="held = p.i"
      @keydown="key($event, p.i)"
    />
    <text
      v-if="readout"
      class="readout"
      :x="Math.max(4, Math.min(width - 128, xOf(points[held]![0]) + 8))"
      :y="yOf(points[held]![1]) < 22 ? yOf(points[held]![1]) + 18 : yOf(points[held]![1]) - 8"
    >
      {{ readout }}
    </text>
    <text v-if="handles.length > MOST_HANDLES" class="readout" x="6" y="14">
      {{ handles.length }} points: look closer to move them
    </text>
  </svg>
</template>

<style scoped>
.lane {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  cursor: crosshair;
  touch-action: none;
  user-select: none;
}
.line {
  fill: none;
  stroke: var(--acting);
  stroke-width: 1.8;
}
.line.none {
  stroke: var(--ink-3);
  stroke-dasharray: 3 4;
  stroke-width: 1.2;
}
.rest {
  stroke: var(--rule);
  stroke-width: 1;
}
.off .line {
  stroke: var(--ink-3);
  stroke-dasharray: 6 4;
}
.edge {
  font: 10px var(--mono);
  fill: var(--ink-3);
  text-anchor: end;
  pointer-events: none;
}
circle {
  fill: var(--surface);
  stroke: var(--acting);
  stroke-width: 1.6;
  cursor: grab;
}
circle.held,
circle:focus-visible {
  fill: var(--acting);
  outline: none;
}
.off circle {
  stroke: var(--ink-3);
}
.readout {
  font: 11px var(--mono);
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--surface);
  stroke-width: 3px;
  pointer-events: none;
  white-space: pre;
}
</style>

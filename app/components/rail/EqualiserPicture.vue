<script setup lang="ts">
// The response of the equaliser as computed from its sections, over the spectrum before and after it; bands can be
// dragged.
import { computed, ref } from 'vue'
import { responseDb } from '@nullet/core/processors/biquad'
import { BANDS, equaliserSections } from '@nullet/core/processors/equaliser'
import type { Params } from '@nullet/core/session/rows'
import { bandHz, BANDS as BINS } from '~/audio/probe'
import { useProbe } from '~/stores/probe'

const props = defineProps<{ params: Params; rate: number; slotId: string }>()
const emit = defineEmits<{ move: [params: Params]; done: [params: Params] }>()
const W = 520,
  H = 150,
  LOW = 20,
  DB = 18
const svg = ref<SVGSVGElement>()
const high = computed(() => Math.min(20000, (props.rate / 2) * 0.95))
const x = (hz: number) => (Math.log(hz / LOW) / Math.log(high.value / LOW)) * W
const y = (db: number) => H / 2 - ((db / DB) * H) / 2
const hzAt = (px: number) => LOW * (high.value / LOW) ** (px / W)
const curve = computed(() => {
  const sections = equaliserSections(props.params, props.rate)
  return Array.from({ length: 131 }, (_, i) => {
    const px = i * 4
    return `${px},${y(Math.max(-40, Math.min(40, responseDb(sections, hzAt(px), props.rate)))).toFixed(1)}`
  }).join(' ')
})
const bands = computed(() =>
  Array.from({ length: BANDS }, (_, i) => i + 1)
    .filter(i => props.params[`kind${i}`] !== 'off')
    .map(i => ({
      i,
      hz: props.params[`hz${i}`] as number,
      db: props.params[`kind${i}`] === 'notch' ? 0 : (props.params[`db${i}`] as number)
    }))
)
const probe = useProbe(),
  FLOOR = -96
/** Spectra use the whole height from 0 to −96 dB. */
const spectrum = (s: Float32Array) =>
  Array.from(
    { length: BINS },
    (_, i) => `${x(bandHz(i)).toFixed(1)},${Math.min(H, Math.max(0, (s[i]! / FLOOR) * H)).toFixed(1)}`
  ).join(' ')
const seen = computed(() => probe.of(props.slotId))
const GRID = [50, 100, 200, 500, 1000, 2000, 5000, 10000]

function down(e: PointerEvent, i: number): void {
  const el = svg.value!,
    box = el.getBoundingClientRect()
  el.setPointerCapture(e.pointerId)
  let last: Params = {}
  const move = (m: PointerEvent) => {
    const px = ((m.clientX - box.left) / box.width) * W,
      py = ((m.clientY - box.top) / box.height) * H
    last = {
      [`hz${i}`]: Number(Math.max(20, Math.min(high.value, hzAt(px))).toPrecision(3)),
      [`db${i}`]: Math.round(Math.max(-18, Math.min(18, ((H / 2 - py) / (H / 2)) * DB)) * 10) / 10
    }
    emit('move', last)
  }
  el.addEventListener('pointermove', move)
  el.addEventListener(
    'pointerup',
    () => {
      el.removeEventListener('pointermove', move)
      if (Object.keys(last).length) emit('done', last)
    },
    { once: true }
  )
}
function wheel(e: WheelEvent, i: number): void {
  emit('done', {
    [`q${i}`]: Number(
      Math.max(0.1, Math.min(30, (props.params[`q${i}`] as number) * (e.deltaY < 0 ? 1.12 : 1 / 1.12))).toPrecision(3)
    )
  })
}
</script>

<template>
  <svg ref="svg" :viewBox="`0 0 ${W} ${H}`" class="picture" role="img" aria-label="frequency response">
    <g class="grid">
      <line v-for="hz in GRID" :key="hz" :x1="x(hz)" :x2="x(hz)" y1="0" :y2="H" />
      <line v-for="d in [-12, -6, 0, 6, 12]" :key="d" x1="0" :x2="W" :y1="y(d)" :y2="y(d)" :class="{ zero: d === 0 }" />
      <text v-for="hz in [100, 1000, 10000]" :key="hz" :x="x(hz) + 3" :y="H - 4">
        {{ hz >= 1000 ? `${hz / 1000} kHz` : `${hz} Hz` }}
      </text>
      <text v-for="d in [-12, 12]" :key="d" x="3" :y="y(d) - 2">{{ d > 0 ? '+' : '−' }}12 dB</text>
    </g>
    <template v-if="seen">
      <polyline :points="spectrum(seen.in)" class="before" />
      <polyline :points="`${spectrum(seen.out)} ${W},${H} 0,${H}`" class="after" data-after />
    </template>
    <polyline :points="curve" class="curve" />
    <g
      v-for="b in bands"
      :key="b.i"
      class="band"
      @pointerdown.left.prevent="down($event, b.i)"
      @wheel.prevent="wheel($event, b.i)"
    >
      <rect :x="x(b.hz) - 8" :y="y(b.db) - 8" width="16" height="16" />
      <text :x="x(b.hz)" :y="y(b.db) + 4">{{ b.i }}</text>
    </g>
  </svg>
</template>

<style scoped>
.picture {
  width: 100%;
  max-width: 520px;
  height: auto;
  background: var(--surface);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  touch-action: none;
}
.grid line {
  stroke: var(--rule);
  stroke-width: 1;
  opacity: 0.6;
}
.grid .zero {
  stroke: var(--ink-3);
}
.grid text {
  font: 9px var(--mono);
  fill: var(--ink-2);
}
.before {
  fill: none;
  stroke: var(--ink-3);
  stroke-width: 1;
  opacity: 0.7;
}
.after {
  fill: var(--signal-soft);
  stroke: none;
}
.curve {
  fill: none;
  stroke: var(--signal);
  stroke-width: 2;
}
.band {
  cursor: grab;
}
.band rect {
  fill: var(--raised);
  stroke: var(--acting);
  rx: 2;
}
.band text {
  font: 10px var(--mono);
  fill: var(--ink);
  text-anchor: middle;
  pointer-events: none;
}
</style>

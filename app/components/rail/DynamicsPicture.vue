<script setup lang="ts">
// The curve of a processor of level, where it has one, and the last seconds of its gain.
import { computed, onMounted, ref, watch } from 'vue'
import type { Params } from '@nullet/core/session/rows'
import { dB } from '~/words/format'
import { useProbe } from '~/stores/probe'
import { useTheme } from '~/stores/theme'
import { useTransport } from '~/stores/transport'
import { CURVES, makeupOf, showsReduction } from './curves'

const props = defineProps<{ processor: string; params: Params; slotId: string }>()
const transport = useTransport(),
  theme = useTheme()
const S = 150,
  FLOOR = -60
const at = (db: number) => Math.max(0, ((db - FLOOR) / -FLOOR) * S)
const shape = computed(() => CURVES[props.processor])
const curve = computed(() =>
  Array.from({ length: 61 }, (_, i) => {
    const d = FLOOR + i
    return `${at(d)},${S - at(shape.value!.out(d, props.params))}`
  }).join(' ')
)
const threshold = computed(() => (shape.value?.mark ? at(shape.value.mark(props.params)) : null))
const reduction = ref(0)
const probe = useProbe()
/** Where it works now: what steers it against what that comes out as. */
const point = computed(() => {
  const seen = probe.of(props.slotId)
  return seen && seen.keyDb > FLOOR
    ? {
        in: Math.min(0, seen.keyDb),
        out: Math.min(0, Math.max(FLOOR, seen.keyDb + reduction.value + makeupOf(props.params)))
      }
    : null
})
const canvas = ref<HTMLCanvasElement>()
const history: number[] = []
const LENGTH = 340,
  RANGE = 24

function draw(): void {
  const c = canvas.value
  if (!c) return
  if (transport.playing) {
    // The curve's gain holds the make-up: what is left is the reduction.
    const gain = transport.levels.get(`gain/${props.slotId}`) ?? 0
    reduction.value = Math.min(0, (Number.isFinite(gain) ? gain : 0) - makeupOf(props.params))
    history.push(reduction.value)
    if (history.length > LENGTH) history.shift()
  }
  const g = c.getContext('2d')!,
    style = getComputedStyle(c)
  g.clearRect(0, 0, c.width, c.height)
  g.strokeStyle = style.getPropertyValue('--rule')
  for (const d of [0, -6, -12, -18]) {
    g.beginPath()
    g.moveTo(0, (-d / RANGE) * c.height + 0.5)
    g.lineTo(c.width, (-d / RANGE) * c.height + 0.5)
    g.stroke()
  }
  g.fillStyle = style.getPropertyValue('--acting')
  g.globalAlpha = 0.75
  history.forEach((v, i) => g.fillRect(c.width - history.length + i, 0, 1, Math.min(c.height, (-v / RANGE) * c.height)))
  g.globalAlpha = 1
}
watch([() => transport.beat, () => theme.name], draw)
onMounted(draw)
</script>

<template>
  <div class="pictures">
    <svg v-if="shape" :viewBox="`0 0 ${S} ${S}`" class="curvebox" role="img" aria-label="static curve">
      <line :x1="0" :y1="S" :x2="S" :y2="0" class="unity" />
      <line v-if="threshold !== null" :x1="threshold" y1="0" :x2="threshold" :y2="S - 15" class="threshold" />
      <polyline :points="curve" class="curve" />
      <circle v-if="point" :cx="at(point.in)" :cy="S - at(point.out)" r="4" class="point" data-live-point />
      <text x="4" y="11">out</text>
      <text :x="S - 4" :y="S - 4" text-anchor="end">in, −60 … 0 dB</text>
    </svg>
    <div v-if="showsReduction(processor)" class="history">
      <canvas ref="canvas" :width="LENGTH" height="130" aria-label="gain reduction" /><span class="caption"
        >gain reduction now <span class="num" data-reduction>{{ dB(reduction) }} dB</span>, shown down to −24 dB</span
      >
    </div>
  </div>
</template>

<style scoped>
.pictures {
  display: flex;
  gap: 12px;
}
.curvebox {
  width: 150px;
  height: 150px;
  background: var(--surface);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
}
.unity {
  stroke: var(--rule);
}
.threshold {
  stroke: var(--key);
  stroke-dasharray: 2 3;
}
.point {
  fill: var(--acting);
  stroke: var(--surface);
  stroke-width: 1.5;
}
.curve {
  fill: none;
  stroke: var(--signal);
  stroke-width: 2;
}
text {
  font: 9px var(--mono);
  fill: var(--ink-2);
}
.history {
  display: grid;
  gap: 4px;
}
canvas {
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  background: var(--surface);
}
</style>

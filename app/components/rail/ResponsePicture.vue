<script setup lang="ts">
// How an impulse response dies away: its level in dB over time, with where it is cut.
import { computed } from 'vue'
import { shaped } from '@nullet/core/processors/convolution'
import { makeResponse, RESPONSES } from '@nullet/core/processors/responses'
import type { Params } from '@nullet/core/session/rows'
import { useSession } from '~/stores/session'
import { useWaveforms } from '~/stores/waveforms'

const props = defineProps<{ params: Params; rate: number }>()
const store = useSession(),
  waveforms = useWaveforms()
const W = 460,
  H = 150,
  FLOOR = -70,
  COLUMNS = 230
const id = computed(() => props.params.response as string)
const medium = computed(() => store.session!.medium[id.value])
const made = computed(() => (id.value in RESPONSES ? makeResponse(id.value, props.rate) : null))
/** Highest level a column, and the seconds that all columns span. */
const levels = computed((): { seconds: number; tops: number[] } | null => {
  let source: ArrayLike<number>,
    perFrame = 1
  if (made.value) source = shaped(made.value, { id: id.value, endS: props.params.endS as number }, props.rate)[0]!
  else {
    const peaks = medium.value && waveforms.of(medium.value.sha256)
    if (!peaks) return null
    // Pairs of lowest and highest of 256 frames.
    source = peaks
    perFrame = 2 / 256
  }
  const tops = Array.from({ length: COLUMNS }, (_, c) => {
    let top = 0
    for (let i = Math.floor((c / COLUMNS) * source.length); i < ((c + 1) / COLUMNS) * source.length; i++)
      top = Math.max(top, Math.abs(source[i] ?? 0))
    return top
  })
  return { seconds: source.length / perFrame / props.rate, tops }
})
const path = computed(() => {
  const l = levels.value
  if (!l) return ''
  const most = Math.max(...l.tops, 1e-9)
  return `M0 ${H}${l.tops.map((t, i) => `L${((i / (COLUMNS - 1)) * W).toFixed(1)} ${Math.min(H, ((20 * Math.log10(Math.max(t / most, 1e-6))) / FLOOR) * H).toFixed(1)}`).join('')}L${W} ${H}Z`
})
const end = computed(() =>
  levels.value && !made.value && (props.params.endS as number) < levels.value.seconds
    ? ((props.params.endS as number) / levels.value.seconds) * W
    : null
)
const marks = computed(() => {
  const s = levels.value?.seconds
  if (!s) return []
  const step = [0.05, 0.1, 0.2, 0.5, 1, 2, 5].find(x => s / x <= 8) ?? 10
  return Array.from({ length: Math.floor(s / step) }, (_, i) => (i + 1) * step).filter(t => t < s * 0.95)
})
</script>

<template>
  <svg :viewBox="`0 0 ${W} ${H}`" class="picture" role="img" aria-label="decay of the response">
    <line v-for="d in [-20, -40, -60]" :key="d" x1="0" :x2="W" :y1="(d / FLOOR) * H" :y2="(d / FLOOR) * H" />
    <text v-for="d in [-20, -40, -60]" :key="`t${d}`" x="3" :y="(d / FLOOR) * H - 2">−{{ -d }} dB</text>
    <path :d="path" />
    <text v-for="t in marks" :key="t" :x="(t / levels!.seconds) * W" :y="H - 4">{{ Number(t.toFixed(2)) }} s</text>
    <line v-if="end !== null" class="end" :x1="end" :x2="end" y1="0" :y2="H" />
    <text v-if="!levels" :x="W / 2" :y="H / 2" text-anchor="middle">
      {{ medium ? 'reading…' : 'not in this session: choose another' }}
    </text>
  </svg>
</template>

<style scoped>
.picture {
  width: 460px;
  height: 150px;
  background: var(--surface);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
}
line {
  stroke: var(--rule);
}
.end {
  stroke: var(--acting);
  stroke-dasharray: 3 3;
}
path {
  fill: var(--signal-soft);
  stroke: var(--signal);
  stroke-width: 1;
}
text {
  font: 9px var(--mono);
  fill: var(--ink-2);
}
</style>

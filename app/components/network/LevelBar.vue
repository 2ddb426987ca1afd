<script setup lang="ts">
// The bar of a strip: ticks, live level, and the fader as a notch on the same scale. The level moves without Vue.
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { valueAt } from '@nullet/core/movement/envelope'
import type { EnvelopePoint } from '@nullet/core/session/rows'
import { drag } from '~/numbers/drag'
import { turnOf } from '~/numbers/hurry'
import { TICKS, levelAt, levelShare } from '~/numbers/levelScale'
import { byKey, FADER, stepped } from '~/numbers/quantity'
import { dB } from '~/words/format'
import { useTransport } from '~/stores/transport'

const props = defineProps<{
  level: number | null
  meter: string
  label: string
  slim?: boolean
  /** Inside of something that is one Tab stop. */ inner?: boolean
  /** What rides on top of the fader. */ ride?: readonly EnvelopePoint[]
}>()
const emit = defineEmits<{ move: [db: number | null]; done: [db: number | null] }>()
const transport = useTransport()
const bar = ref<HTMLElement>(),
  fill = ref<HTMLElement>(),
  rider = ref<HTMLElement>(),
  mean = ref<HTMLElement>()
const at = computed(() => `${levelShare(props.level) * 100}%`)
const ZERO = levelShare(0)
/** A pixel of a usual bar. */
const PIXEL = 0.008
/** In a hurry half of all bars move in a frame, the other half in the next. */
const turn = turnOf()
let drawn = -1,
  drawnMean = -1,
  over = false

/** The level with what rides on top of it now. */
const ridden = () =>
  props.level === null || !props.ride?.length
    ? props.level
    : props.level + valueAt(props.ride, transport.position, 'db')

function show(): void {
  const m = levelShare(transport.levels.get(`rms/${props.meter}`) ?? -Infinity)
  if (mean.value && Math.abs(m - drawnMean) >= PIXEL) {
    drawnMean = m
    mean.value.style.transform = `scaleX(${m})`
  }
  if (rider.value) rider.value.style.left = `${levelShare(ridden()) * 100}%`
  const x = levelShare(transport.levels.get(props.meter) ?? -Infinity)
  if (Math.abs(x - drawn) < PIXEL || !fill.value) return
  drawn = x
  fill.value.style.transform = `scaleX(${x})`
  if (x > ZERO !== over) fill.value.classList.toggle('over', (over = x > ZERO))
}
watch(
  () => transport.beat,
  beat => !(transport.isHurried() && beat % 2 === turn) && show(),
  { flush: 'sync' }
)
onMounted(show)
watch(() => [props.ride, props.level], show, { flush: 'post' })

let leave: (() => void) | null = null
onBeforeUnmount(() => leave?.())
function down(e: PointerEvent): void {
  const start = levelShare(ridden())
  let last = props.level
  leave?.()
  leave = drag(bar.value!, e, bar.value!.clientWidth, {
    move(by) {
      last = levelAt(start + by)
      emit('move', last)
    },
    end: moved => moved && emit('done', last)
  })
}
function key(e: KeyboardEvent): void {
  const level = byKey({ ...FADER, label: props.label }, props.level, e.key)
  if (level === undefined) return
  e.preventDefault()
  e.stopPropagation()
  emit('done', level)
}
function wheel(e: WheelEvent): void {
  if (document.activeElement !== bar.value) return
  e.preventDefault()
  emit('done', stepped({ ...FADER, label: props.label }, props.level, e.deltaY < 0 ? 1 : -1))
}
</script>

<template>
  <div
    ref="bar"
    class="bar"
    :class="{ slim }"
    role="slider"
    :tabindex="inner ? -1 : 0"
    :aria-label="`level of ${label}`"
    aria-valuemin="-60"
    aria-valuemax="12"
    :aria-valuenow="level ?? -60"
    :aria-valuetext="`${dB(level)} dB`"
    title="drag the notch; double click for 0 dB"
    @pointerdown.left.stop.prevent="down"
    @dblclick.stop="emit('done', 0)"
    @keydown="key"
    @wheel="wheel"
  >
    <i
      v-for="t in slim ? [] : TICKS"
      :key="t"
      class="tick"
      :class="{ zero: t === 0 }"
      :style="{ left: `${levelShare(t) * 100}%` }"
    />
    <i class="runway" /><i ref="fill" class="fill" /><i ref="mean" class="fill mean" /><i
      class="notch"
      :class="{ under: ride }"
      :style="{ left: at }"
    /><i v-if="ride" ref="rider" class="notch rider" title="where the ride has it" />
  </div>
</template>

<style scoped>
.bar {
  position: relative;
  height: 13px;
  cursor: ew-resize;
  touch-action: none;
  border-radius: 1px;
}
.runway,
.fill {
  position: absolute;
  left: 0;
  right: 0;
  top: 5px;
  height: 4px;
  background: var(--track);
}
.fill {
  background: var(--signal);
  transform: scaleX(0);
  transform-origin: 0 0;
}
.fill.mean {
  top: 7px;
  height: 2px;
  background: var(--ink);
  opacity: 0.45;
}
.fill.over {
  background: var(--wrong);
}
.tick {
  position: absolute;
  top: 2px;
  width: 1px;
  height: 10px;
  background: var(--rule);
}
.tick.zero {
  background: var(--ink-3);
}
.notch {
  position: absolute;
  top: 0;
  width: 9px;
  height: 12px;
  margin-left: -4.5px;
  background: var(--ink);
  clip-path: polygon(0 0, 100% 0, 50% 100%);
}
.notch.under {
  background: var(--ink-3);
}
.notch.rider {
  background: var(--acting);
}
.bar:hover .notch,
.bar:focus-visible .notch {
  background: var(--acting);
}
.slim .runway,
.slim .fill {
  top: 4px;
  height: 4px;
}
.slim .fill.mean {
  top: 6px;
  height: 2px;
}
</style>

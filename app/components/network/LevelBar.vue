<script setup lang="ts">
// The bar of a strip: ticks, and the fader as a notch on the scale of the level, which the ground around it paints. Its
// face is one background: each thing that is painted apart is paid for at every row that one scrolls.
import { inject, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { valueAt } from '@nullet/core/movement/envelope'
import type { EnvelopePoint } from '@nullet/core/session/rows'
import { drag } from '~/numbers/drag'
import { levelAt, levelShare } from '~/numbers/levelScale'
import { byKey, FADER, stepped } from '~/numbers/quantity'
import { dB } from '~/words/format'
import { useTransport } from '~/stores/transport'
import { faceOf, notchAt } from './levelFace'
import { LEVELS } from './levelPaint'
import { restsWithStrip } from './resting'

const props = defineProps<{
  level: number | null
  meter: string
  label: string
  /** Without ticks. */ slim?: boolean
  /** Its level alone: there is no room for a fader. */ bare?: boolean
  /** Inside of something that is one Tab stop. */ inner?: boolean
  /** What rides on top of the fader. */ ride?: readonly EnvelopePoint[]
  /** How much of its level shows: all without it. */ shown?: number
}>()
const emit = defineEmits<{ move: [db: number | null]; done: [db: number | null] }>()
const transport = useTransport()
restsWithStrip()
const bar = ref<HTMLElement>(),
  rider = ref<HTMLElement>()

/** The level with what rides on top of it now. */
const ridden = () =>
  props.level === null || !props.ride?.length
    ? props.level
    : props.level + valueAt(props.ride, transport.position, 'db')

/** Follows the clock, without Vue, only where something rides. */
watch(
  () => [props.ride && transport.beat, props.level, rider.value],
  () => rider.value && (rider.value.style.transform = `translateX(${levelShare(ridden()) * 100}%)`),
  { flush: 'sync' }
)

const levels = inject(LEVELS)
let takeOut: (() => void) | undefined
onMounted(() => {
  takeOut = levels?.({
    element: bar.value!,
    meter: () => props.meter,
    notches: () => (props.bare ? [] : props.ride ? [props.level, ridden()] : [props.level]).map(levelShare),
    shown: () => props.shown ?? 1
  })
})
onBeforeUnmount(() => takeOut?.())

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
    :class="{ rides: ride }"
    :style="{ '--at': notchAt(levelShare(level)) }"
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
    <i v-memo="[slim, bare]" class="face" :style="faceOf({ notch: !bare, runway: true, ticks: !slim && !bare })" />
    <span v-if="ride && !bare" ref="rider" class="riding"
      ><i class="rider" :style="faceOf({ notch: true })" title="where the ride has it"
    /></span>
  </div>
</template>

<style scoped>
.bar {
  --notch: var(--ink);
  height: 13px;
  cursor: ew-resize;
  touch-action: none;
}
/* Wider than the bar, so that a notch at either end shows whole. */
.face {
  pointer-events: none;
  display: block;
  height: 13px;
  margin: 0 -5px;
  padding: 0 5px;
}
.rides {
  --notch: var(--ink-3);
  position: relative;
}
.riding {
  position: absolute;
  inset: 0;
  pointer-events: none;
}
.rider {
  --notch: var(--acting);
  --at: 0px;
  display: block;
  width: 9px;
  height: 13px;
  margin-left: -4.5px;
  pointer-events: auto;
}
.bar:hover,
.bar:focus-visible {
  --notch: var(--acting);
}
</style>

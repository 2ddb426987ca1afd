<script setup lang="ts">
// What bars lie on (a positioned element): their levels are painted here, on one canvas, as far as they reach.
import { onBeforeUnmount, onMounted, onUpdated, provide, ref, watch } from 'vue'
import { useTheme } from '~/stores/theme'
import { useTransport } from '~/stores/transport'
import { coloursOf } from '~/style/canvas'
import { LEVEL_INK, LEVELS, LevelPaint, type LevelInk, type Stretch } from './levelPaint'

/** The stretch of it that is in sight, px; without it all is. */
const props = defineProps<{ sight?: () => Stretch }>()
const transport = useTransport(),
  theme = useTheme()
const ground = ref<HTMLElement>(),
  canvas = ref<HTMLCanvasElement>()
const paint = new LevelPaint(
  () => canvas.value!,
  () => ground.value!,
  () => props.sight?.() ?? { top: 0, bottom: ground.value!.clientHeight }
)
let ink: LevelInk | null = null
provide(LEVELS, mark => paint.add(mark))

function show(): void {
  ink ??= coloursOf(ground.value!, LEVEL_INK)
  paint.paint(transport.levels, ink)
}
/** Where bars lie may have changed: with the next painting, which at rest is that of the next frame. */
function again(): void {
  paint.moved()
  if (transport.playing) return
  cancelAnimationFrame(frame)
  frame = requestAnimationFrame(show)
}
let frame = 0
watch(
  () => transport.beat,
  () => transport.isPainted() && canvas.value && show(),
  { flush: 'sync' }
)
watch(
  () => theme.name,
  () => {
    ink = null
    again()
  },
  { flush: 'post' }
)
onUpdated(again)
let observer: ResizeObserver | null = null
onMounted(() => {
  observer = new ResizeObserver(again)
  observer.observe(ground.value!)
})
onBeforeUnmount(() => {
  observer?.disconnect()
  cancelAnimationFrame(frame)
})
</script>

<template>
  <div ref="ground"><slot /><canvas ref="canvas" aria-hidden="true" /></div>
</template>

<style scoped>
canvas {
  position: absolute;
  left: 0;
  top: 0;
  pointer-events: none;
  z-index: 2;
}
</style>

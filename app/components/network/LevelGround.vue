<script setup lang="ts">
// What bars lie on (a positioned element): their levels are painted here while there are any, on canvases over them.
import { onBeforeUnmount, onMounted, onUpdated, provide, ref, watch } from 'vue'
import { useTransport } from '~/stores/transport'
import { useInk } from '~/style/ink'
import { LEVEL_INK, LEVELS, LevelPaint, type Stretch } from './levelPaint'

/** The stretch of it that is in sight, px; without it all is. */
const props = defineProps<{ sight?: () => Stretch }>()
const transport = useTransport()
const ground = ref<HTMLElement>(),
  painted = ref<HTMLElement>()
const paint = new LevelPaint(
  canvases,
  () => ground.value!,
  () => props.sight?.() ?? null
)
function canvases(count: number): HTMLCollectionOf<HTMLCanvasElement> {
  const children = painted.value!.children as HTMLCollectionOf<HTMLCanvasElement>
  while (children.length > count) painted.value!.lastChild!.remove()
  while (children.length < count) painted.value!.append(document.createElement('canvas'))
  return children
}
provide(LEVELS, mark => paint.add(mark))

function show(): void {
  if (!painted.value) return
  paint.paint(transport.levels, inks())
}
/** Where bars lie may have changed: seen with the next painting. */
const again = () => paint.moved()
const inks = useInk(() => ground.value!, LEVEL_INK, again)
watch(
  () => transport.beat,
  () => transport.isPainted() && show(),
  { flush: 'sync' }
)
onUpdated(again)
let observer: ResizeObserver | null = null
onMounted(() => {
  observer = new ResizeObserver(again)
  observer.observe(ground.value!)
})
onBeforeUnmount(() => observer?.disconnect())
</script>

<template>
  <div ref="ground"><slot /><span ref="painted" aria-hidden="true" /></div>
</template>

<style scoped>
span > :deep(canvas) {
  position: absolute;
  pointer-events: none;
  z-index: 2;
}
</style>

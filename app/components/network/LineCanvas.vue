<script setup lang="ts">
// Lines of feeds on a canvas: where they are drawn anew with every row that a hand scrolls, and where there are many.
// Paths that change would have the page put its layers together anew.
import { onMounted, ref, watch, type Ref } from 'vue'
import { clearCanvas } from '~/style/canvas'
import { useInk } from '~/style/ink'
import { FEED_INK, lookOf } from './feedLook'
import { boxOf, LABEL, labelsOf, pathsOf, type Drawn } from './lines'

/** Lines are read here, so that nothing around is drawn anew when they change. */
const props = defineProps<{ lines: Ref<readonly Drawn[]>; /** Px. */ width: number; height: number }>()
const canvas = ref<HTMLCanvasElement>()
const inks = useInk(() => canvas.value!, FEED_INK, draw)

function draw(): void {
  if (!canvas.value) return
  const ink = inks()
  const g = clearCanvas(canvas.value, props.width, props.height)
  for (const { look, pen } of pathsOf(props.lines.value, () => new Path2D())) {
    const { ink: name, shown, width, dashes, filled } = lookOf(look)
    g.globalAlpha = shown
    g.lineWidth = width
    g.setLineDash(dashes)
    g.strokeStyle = g.fillStyle = ink[name]
    if (filled) g.fill(pen)
    else g.stroke(pen)
  }
  g.globalAlpha = 1
  for (const { text, at } of labelsOf(props.lines.value)) {
    const { x, y, width, height } = boxOf(text)
    g.fillStyle = ink.ground
    g.fillRect(at.x + x, at.y + y, width, height)
    g.fillStyle = ink.ink
    g.font = LABEL.font
    g.textAlign = 'center'
    g.fillText(text, at.x, at.y + LABEL.base)
  }
}
onMounted(draw)
watch([() => props.lines.value, () => props.width, () => props.height], draw, { flush: 'post' })
</script>

<template>
  <canvas ref="canvas" class="lines" aria-hidden="true" :style="{ width: `${width}px`, height: `${height}px` }" />
</template>

<style scoped>
.lines {
  position: absolute;
  pointer-events: none;
}
</style>

<script setup lang="ts">
// Lines of feeds where they are drawn anew with every row that a hand scrolls, on a canvas: paths that change would
// have the page put its layers together anew.
import { onMounted, ref, watch, type Ref } from 'vue'
import { useTheme } from '~/stores/theme'
import { clearCanvas, coloursOf } from '~/style/canvas'
import { FEED_INK, lookOf } from './feedLook'
import { LABEL, labelsOf, pathsOf, type Drawn } from './lines'

/** Lines are read here, so that nothing around is drawn anew when they change. */
const props = defineProps<{ lines: Ref<readonly Drawn[]>; /** Px. */ width: number; height: number }>()
const theme = useTheme()
const canvas = ref<HTMLCanvasElement>()
let ink: Record<keyof typeof FEED_INK, string> | null = null

function draw(): void {
  if (!canvas.value) return
  ink ??= coloursOf(canvas.value, FEED_INK)
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
    const width = text.length * LABEL.character + 4
    g.fillStyle = ink.ground
    g.fillRect(at.x - width / 2, at.y - LABEL.height / 2, width, LABEL.height)
    g.fillStyle = ink.ink
    g.font = LABEL.font
    g.textAlign = 'center'
    g.fillText(text, at.x, at.y + LABEL.base)
  }
}
onMounted(draw)
watch([() => props.lines.value, () => props.width, () => props.height], draw, { flush: 'post' })
watch(
  () => theme.name,
  () => {
    ink = null
    draw()
  },
  { flush: 'post' }
)
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

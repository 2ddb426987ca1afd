<script setup lang="ts">
// Lines of feeds, as far as its box reaches. Strips lie over them.
import { computed, type Ref } from 'vue'
import { FEED_INK, lookOf } from './feedLook'
import { boxOf, drawingOf, LABEL, type Drawn } from './lines'

/** Read here, so that nothing around it is drawn anew when lines are. */
const props = defineProps<{ lines: Ref<readonly Drawn[]> }>()
const drawing = computed(() => drawingOf(props.lines.value))

const painted = (words: string) => {
  const { ink, shown, width, dashes, filled } = lookOf(words),
    colour = `var(${FEED_INK[ink]})`
  return filled
    ? { fill: colour, 'fill-opacity': shown }
    : {
        fill: 'none',
        stroke: colour,
        'stroke-opacity': shown,
        'stroke-width': width,
        'stroke-dasharray': dashes.join(' ')
      }
}
</script>

<template>
  <svg class="lines" aria-hidden="true">
    <path v-for="p in drawing.paths" :key="p.key" :d="p.d" v-bind="painted(p.look)" />
    <g v-for="l in drawing.labels" :key="l.key" :transform="`translate(${l.at.x} ${l.at.y})`">
      <rect v-bind="boxOf(l.text)" />
      <text :y="LABEL.base" :style="{ font: LABEL.font }">{{ l.text }}</text>
    </g>
  </svg>
</template>

<style scoped>
.lines {
  position: absolute;
  pointer-events: none;
}
rect {
  fill: var(--ground);
}
text {
  fill: var(--ink);
  text-anchor: middle;
}
</style>

<script setup lang="ts">
// Lines of feeds, as far as its box reaches. Strips lie over them.
import type { Ref } from 'vue'
import { LABEL, type Drawing } from './lines'

/** Read here, so that nothing around it is drawn anew when lines are. */
defineProps<{ drawing: Ref<Drawing> }>()
</script>

<template>
  <svg class="lines" aria-hidden="true">
    <path v-for="p in drawing.value.paths" :key="p.key" :class="p.look" :d="p.d" />
    <g v-for="l in drawing.value.labels" :key="l.key" :transform="`translate(${l.at.x} ${l.at.y})`">
      <rect
        :x="-(l.text.length * LABEL.character) / 2 - 2"
        :y="-LABEL.height / 2"
        :width="l.text.length * LABEL.character + 4"
        :height="LABEL.height"
      />
      <text y="3.5">{{ l.text }}</text>
    </g>
  </svg>
</template>

<style scoped>
.lines {
  position: absolute;
  pointer-events: none;
}
/* How much of a line shows is said of its stroke: an opacity of its own would be a picture to lay over. */
path {
  --line: var(--ink-3);
  --shown: 0.3;
  fill: none;
  stroke: var(--line);
  stroke-opacity: var(--shown);
}
.main {
  --shown: 0.55;
}
.send {
  --line: var(--acting);
  stroke-dasharray: 5 3;
}
.key {
  --line: var(--key);
  stroke-dasharray: 1.5 3;
}
.lit {
  --shown: 1;
  stroke-width: 2px;
}
.main.lit {
  --line: var(--signal);
}
.dimmed {
  --shown: 0.14;
}
.closed {
  --shown: 0.15;
}
.crowded {
  stroke-dasharray: none;
  stroke-width: 1px;
}
.end {
  fill: var(--line);
  fill-opacity: var(--shown);
  stroke: none;
}
rect {
  fill: var(--ground);
}
text {
  fill: var(--ink);
  font: 10px var(--mono);
  text-anchor: middle;
}
</style>

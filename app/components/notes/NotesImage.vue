<script setup lang="ts">
// The notes of a track over time, small: where a waveform would be.
import { computed } from 'vue'
import { phrasesOf, soundingNotes } from '@nullet/core/notes/phrases'
import { useSession } from '~/stores/session'

const props = defineProps<{ channel: string; hue: number; from: number; to: number }>()
const store = useSession()
const path = computed(() => {
  const notes = phrasesOf(store.session!, props.channel).flatMap(p => soundingNotes(store.session!, p))
  const low = Math.min(...notes.map(n => n.key)) - 1,
    high = Math.max(...notes.map(n => n.key)) + 1
  const x = (frame: number) => (((frame - props.from) / (props.to - props.from)) * 1000).toFixed(1)
  return notes
    .filter(n => n.end > props.from && n.start < props.to)
    .map(
      n =>
        `M${x(n.start)} ${(96 - ((n.key - low) / (high - low)) * 92).toFixed(1)}H${x(Math.max(n.end, n.start + (props.to - props.from) / 400))}`
    )
    .join('')
})
</script>

<template>
  <svg viewBox="0 0 1000 100" preserveAspectRatio="none" aria-hidden="true">
    <path :d="path" :style="{ stroke: `var(--hue-${hue})` }" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  height: 100%;
}
path {
  fill: none;
  stroke-width: 3;
  vector-effect: non-scaling-stroke;
}
</style>

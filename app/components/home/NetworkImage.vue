<script lang="ts">
/** By session and revision, for as long as the page lives: lines come and go as the list is scrolled. */
const known = new Map<string, NetworkPicture>()
</script>

<script setup lang="ts">
// A session's network, small: a column a tier, a bar a channel in its hue, lines where main feeds go.
import { computed, onMounted, shallowRef, watch } from 'vue'
import type { NetworkPicture } from '@nullet/core/graph/networkPicture'
import { api } from '~/stores/api'

const props = defineProps<{ session: string; revision: number }>()
const WIDTH = 132,
  HEIGHT = 44,
  BAR = 14
const picture = shallowRef<NetworkPicture>()
async function load(): Promise<void> {
  const name = `${props.session} ${props.revision}`
  try {
    picture.value =
      known.get(name) ?? (await api<NetworkPicture>(`/api/sessions/${encodeURIComponent(props.session)}/picture`))
    known.set(name, picture.value)
  } catch {
    // The list says what is wrong with the server.
    picture.value = undefined
  }
}
onMounted(load)
watch(() => [props.session, props.revision], load)

const drawn = computed(() => {
  const columns = picture.value?.columns ?? []
  const gap = columns.length > 1 ? (WIDTH - BAR) / (columns.length - 1) : 0
  const place = (column: number, row: number) => {
    const count = columns[column]?.length ?? 1,
      pitch = Math.min(9, HEIGHT / count)
    return { x: column * gap, y: (HEIGHT - count * pitch) / 2 + (row + 0.5) * pitch, h: Math.max(0.6, pitch * 0.62) }
  }
  const bars = columns.flatMap((list, c) => list.map((hue, r) => ({ ...place(c, r), hue })))
  const path = (picture.value?.ways ?? [])
    .map(([c1, r1, c2, r2]) => {
      const a = place(c1, r1),
        b = place(c2, r2),
        x1 = a.x + BAR,
        half = (x1 + b.x) / 2
      return `M${x1.toFixed(1)} ${a.y.toFixed(1)}C${half.toFixed(1)} ${a.y.toFixed(1)} ${half.toFixed(1)} ${b.y.toFixed(1)} ${b.x.toFixed(1)} ${b.y.toFixed(1)}`
    })
    .join('')
  return { bars, path }
})
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" :width="WIDTH" :height="HEIGHT" aria-hidden="true">
    <path :d="drawn.path" />
    <rect
      v-for="(b, i) in drawn.bars"
      :key="i"
      :x="b.x"
      :y="b.y - b.h / 2"
      :width="BAR"
      :height="b.h"
      :fill="`var(--hue-${b.hue})`"
    />
  </svg>
</template>

<style scoped>
svg {
  display: block;
}
path {
  fill: none;
  stroke: var(--ink-3);
  stroke-width: 0.6;
  opacity: 0.6;
}
</style>

<script setup lang="ts">
// What the strip under the pointer offers while a feed is drawn to it, or why it does not.
import type { Target } from './feedDrawing'

defineProps<{ target: Target }>()
</script>

<template>
  <Teleport to="body">
    <div
      class="target"
      data-offers="1"
      :style="{ left: `${target.rect.left}px`, top: `${target.rect.bottom - 2}px`, minWidth: `${target.rect.width}px` }"
    >
      <span
        v-for="o in target.offers"
        :key="o.verb"
        class="offer"
        :class="{ chosen: o.verb === target.chosen, refused: o.refused }"
        :data-offer="o.refused ? undefined : o.verb"
      >
        {{ o.label }}<small v-if="o.refused">{{ o.refused }}</small>
      </span>
    </div>
  </Teleport>
</template>

<style scoped>
.target {
  position: fixed;
  z-index: 3000;
  display: flex;
  gap: 1px;
  background: var(--rule);
  border: 1px solid var(--rule);
  box-shadow: var(--shadow);
  border-radius: var(--radius);
  overflow: hidden;
  max-width: 460px;
}
.offer {
  flex: 1;
  padding: 5px 10px;
  background: var(--raised);
  font-size: 12px;
  white-space: nowrap;
}
.offer.chosen {
  background: var(--acting);
  color: var(--surface);
}
.offer.refused {
  color: var(--ink-2);
  white-space: normal;
}
small {
  display: block;
  color: var(--wrong);
  font-size: 11px;
  min-width: 150px;
}
</style>

<script setup lang="ts">
// A tap on the rail, with the feeds that leave there.
import type { Feed } from '@nullet/core/session/rows'
import { dB, pan } from '~/words/format'

defineProps<{
  label: string
  feeds: Feed[]
  goal(f: Feed): string
  /** Placement of feeds that have none of their own. */ ownPan: number
  last?: boolean
}>()
</script>

<template>
  <div class="tap" :class="{ last }">
    <span class="caption">{{ label }}</span>
    <i class="dot" />
    <div v-for="f in feeds" :key="f.id" class="feed" :class="f.kind">
      <i /><span class="clip" :title="goal(f)">{{ goal(f) }}</span
      ><span class="num">{{ dB(f.levelDb) }}</span
      ><span class="caption" title="placement">{{ f.kind === 'key' ? '' : pan(f.pan ?? ownPan) }}</span>
    </div>
  </div>
</template>

<style scoped>
.tap {
  display: grid;
  justify-items: start;
  gap: 1px;
  min-width: 62px;
  max-width: 190px;
  padding: 0 8px;
  flex: none;
  margin-right: 8px;
}
.tap .caption {
  background: var(--surface);
  height: 15px;
}
.dot {
  width: 9px;
  height: 9px;
  border-radius: 50%;
  border: 2px solid var(--signal);
  background: var(--surface);
  margin: 2px 0 4px;
}
.feed {
  display: flex;
  gap: 6px;
  align-items: center;
  font-size: 11px;
  width: 100%;
  background: var(--surface);
}
.feed .clip {
  flex: 1;
}
.feed i {
  width: 12px;
  flex: none;
  border-top: 1.5px solid var(--ink-3);
}
.send i {
  border-top: 1.5px dashed var(--acting);
}
.key i {
  border-top: 2px dotted var(--key);
}
.port i {
  border-top: 3px double var(--ink);
}
.num {
  font-size: 11px;
}
</style>

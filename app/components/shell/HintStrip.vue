<script setup lang="ts">
// After the first stroke: what the second can be.
import { computed } from 'vue'
import { commands, FIRST } from '~/commands/table'
import { useShell } from '~/stores/shell'

const shell = useShell()
const all = commands()
const next = computed(() => all.filter(c => c.keys.startsWith(`${shell.stroke} `)))
</script>

<template>
  <div v-if="shell.stroke" class="hint" role="status">
    <span
      ><kbd>{{ shell.stroke }}</kbd> {{ FIRST[shell.stroke] }}:</span
    >
    <span v-for="c in next" :key="c.keys"
      ><kbd>{{ c.keys.slice(2) }}</kbd> {{ c.label }}</span
    >
    <span><kbd>Esc</kbd> cancel</span>
  </div>
</template>

<style scoped>
.hint {
  position: fixed;
  left: 50%;
  bottom: calc(12px + max(64px, var(--notices, 0px)));
  transform: translateX(-50%);
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  padding: 8px 16px;
  max-width: 90vw;
  background: var(--float-ground);
  color: var(--float-ink);
  border-radius: var(--radius);
  box-shadow: var(--shadow);
  z-index: 3000;
  font-size: 12px;
}
kbd {
  background: none;
  border-color: color-mix(in srgb, var(--float-ink) 40%, transparent);
  color: inherit;
}
</style>

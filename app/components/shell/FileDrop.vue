<script setup lang="ts">
// A page onto which files may be dropped anywhere; a slot or a cable on its way is not a file.
import { ref } from 'vue'
import { droppedOn, type Dropped } from '~/session/dropped'

const { tag = 'div', off = false } = defineProps<{
  tag?: string
  /** What letting go will do. */ says: string
  /** Nothing can be dropped yet. */ off?: boolean
}>()
const emit = defineEmits<{ files: [Dropped] }>()
const hovering = ref(false)
const carriesFiles = (e: DragEvent) => !off && !!e.dataTransfer?.types.includes('Files')

function over(e: DragEvent): void {
  if (!carriesFiles(e)) return
  e.preventDefault()
  hovering.value = true
}
/** Left for good, and not for something inside the page. */
function leave(e: DragEvent): void {
  if (!e.relatedTarget) hovering.value = false
}
function dropped(e: DragEvent): void {
  hovering.value = false
  if (!carriesFiles(e)) return
  e.preventDefault()
  void droppedOn(e.dataTransfer!).then(all => emit('files', all))
}
</script>

<template>
  <component :is="tag" @dragover="over" @dragleave="leave" @drop="dropped">
    <slot />
    <div v-if="hovering" class="drop">{{ says }}</div>
  </component>
</template>

<style scoped>
.drop {
  position: fixed;
  inset: 56px 12px 76px;
  z-index: 3500;
  border: 2px dashed var(--acting);
  background: color-mix(in srgb, var(--ground) 82%, transparent);
  display: grid;
  place-items: center;
  font-size: 16px;
  color: var(--acting);
  pointer-events: none;
}
</style>

<script setup lang="ts">
// Element Plus' slider for values that live in the session: says where the hand is, then where it let go.
import { ref, watch } from 'vue'

const props = defineProps<{ value: number; min: number; max: number; step?: number; label: string }>()
const emit = defineEmits<{ move: [value: number]; done: [value: number] }>()
const here = ref(props.value)
watch(
  () => props.value,
  v => {
    here.value = v
  }
)
function moved(v: number | number[]): void {
  here.value = v as number
  emit('move', v as number)
}
function done(): void {
  emit('done', here.value)
}
</script>

<template>
  <el-slider
    :model-value="here"
    :min="min"
    :max="max"
    :step="step ?? 1"
    :show-tooltip="false"
    :aria-label="label"
    @input="moved"
    @change="done"
  />
</template>

<script setup lang="ts">
// What is to be done in the room, ticked off.
import { usePasses } from '~/stores/passes'

defineProps<{ lines: { id: string; what: string; text: string }[] }>()
const emit = defineEmits<{ done: [line: { id: string; what: string }, on: boolean] }>()
const passes = usePasses()
</script>

<template>
  <div class="todo">
    <el-checkbox
      v-for="t in lines"
      :key="t.id"
      :model-value="passes.isTicked(t.id)"
      size="small"
      @change="(on: unknown) => emit('done', t, !!on)"
      >{{ t.text }}</el-checkbox
    >
    <slot />
  </div>
</template>

<style scoped>
.todo {
  display: grid;
  justify-items: start;
}
.todo :deep(.el-checkbox) {
  height: 24px;
  margin-right: 0;
}
</style>

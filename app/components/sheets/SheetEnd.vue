<script setup lang="ts">
// The last line of a sheet: what is said about it at the left, cancel and do at the right.
defineProps<{
  label: string
  disabled?: boolean
  note?: string
  /** All is done: nothing is left to cancel. */ over?: boolean
}>()
const emit = defineEmits<{ close: []; done: [] }>()
</script>

<template>
  <div class="end">
    <span class="caption note">{{ note }}</span>
    <el-button v-if="!over" @click="emit('close')">Cancel</el-button>
    <el-button type="primary" :disabled="disabled" data-do @click="emit('done')">{{ label }}</el-button>
  </div>
</template>

<style scoped>
.end {
  display: flex;
  align-items: center;
  gap: 6px;
  margin-top: 16px;
  padding-top: 12px;
  border-top: 1px solid var(--rule);
}
.note {
  flex: 1;
}
</style>

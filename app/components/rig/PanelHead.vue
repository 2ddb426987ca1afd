<script setup lang="ts">
// The head of a panel beside the drawing: what is opened, what one does with the whole of it, and close.
defineProps<{ title: string }>()
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <div class="head">
    <h2 class="title">{{ title }}</h2>
    <slot />
    <button class="plain" aria-label="close" @click="emit('close')">×</button>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  gap: 12px;
  align-items: center;
}
.title {
  flex: 1;
}
</style>

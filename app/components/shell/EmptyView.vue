<script setup lang="ts">
// What a view is for while there is nothing in it, and the first step from here.
export interface Step {
  label: string
  run(): unknown
  attrs?: Record<string, string>
}
defineProps<{ title: string; steps?: readonly Step[] }>()
</script>

<template>
  <div class="empty" data-empty>
    <h2>{{ title }}</h2>
    <div class="text"><slot /></div>
    <p v-if="steps?.length" class="steps">
      <el-button
        v-for="(s, i) in steps"
        :key="s.label"
        :type="i ? 'default' : 'primary'"
        v-bind="s.attrs"
        @click="s.run"
        >{{ s.label }}</el-button
      >
    </p>
  </div>
</template>

<style scoped>
.text {
  max-width: 66ch;
  margin: 0 auto;
}
.steps {
  display: flex;
  flex-wrap: wrap;
  justify-content: center;
  gap: 8px;
  margin: 20px 0 0;
}
.steps .el-button + .el-button {
  margin-left: 0;
}
</style>

<script setup lang="ts">
// One parameter of a slot or a unit: its label, and its number or its choices.
import type { Parameter } from '@nullet/core/processors/processor'

defineProps<{ parameter: Parameter; value: number | string | boolean; /** An envelope has it. */ follows?: boolean }>()
const emit = defineEmits<{ move: [value: number]; done: [value: number | string]; follow: [] }>()
</script>

<template>
  <div class="param">
    <span class="caption clip" :title="parameter.note"
      ><button
        v-if="follows"
        class="plain tilde"
        :title="`${parameter.label} follows an envelope; what is set here counts when that is off. Click to see it.`"
        @click="emit('follow')"
      >
        ~</button
      >{{ parameter.label }}</span
    >
    <el-select
      v-if="parameter.choices"
      :model-value="value"
      size="small"
      :aria-label="parameter.label"
      @change="(v: string) => emit('done', v)"
    >
      <el-option
        v-for="c in parameter.choices"
        :key="c"
        :value="c"
        :label="parameter.unit && c !== 'off' ? `${c} ${parameter.unit}` : c"
      />
    </el-select>
    <NumberField
      v-else
      bar
      :quantity="parameter"
      :value="value as number"
      @move="v => emit('move', v as number)"
      @done="v => emit('done', v as number)"
    />
  </div>
</template>

<style scoped>
.param {
  display: grid;
  grid-template-columns: 92px 1fr;
  gap: 10px;
  align-items: center;
  height: 26px;
}
.tilde {
  color: var(--acting);
  font-weight: 700;
  padding-right: 4px;
}
</style>

<script setup lang="ts">
// One parameter of a slot or a unit: its label, and its number or its choices.
import { computed } from 'vue'
import type { Params } from '@nullet/core/session/rows'
import type { Parameter } from '@nullet/core/processors/processor'

const props = defineProps<{
  parameter: Parameter
  value: number | string | boolean
  /** All settings of the processor: some do not count with others as they are. */ all?: Params
  /** An envelope has it. */ follows?: boolean
}>()
const isIdle = computed(() => !!props.all && props.parameter.counts?.(props.all) === false)
const title = computed(() =>
  isIdle.value ? `${props.parameter.label} does not count with the other settings as they are.` : props.parameter.note
)
const emit = defineEmits<{ move: [value: number]; done: [value: number | string]; follow: [] }>()
</script>

<template>
  <div class="param" :class="{ idle: isIdle }">
    <span class="caption clip" :title="title"
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
/* Text stays readable; what could be moved steps back. */
.idle :deep(.way) {
  opacity: 0.25;
}
.idle .caption {
  font-style: italic;
}
.tilde {
  color: var(--acting);
  font-weight: 700;
  padding-right: 4px;
}
</style>

<script setup lang="ts">
// One parameter: a slider that moves by its law, and its number, which can be typed.
import { computed } from 'vue'
import type { Parameter } from '@nullet/core/processors/processor'
import { value as written } from '~/words/format'
import { askNumber } from '~/stores/askNumber'

const props = defineProps<{
  parameter: Parameter
  value: number | string | boolean
  /** An envelope has it. */ follows?: boolean
}>()
const emit = defineEmits<{ move: [value: number]; done: [value: number | string]; follow: [] }>()
const min = computed(() => props.parameter.min ?? 0)
const max = computed(() => props.parameter.max ?? 1)
/** Ratios need a floor above zero. */
const floor = computed(() => Math.max(min.value, max.value / 10000))
const STEPS = 400
const at = computed(() => {
  const v = props.value as number
  if (props.parameter.law !== 'ratio') return Math.round(((v - min.value) / (max.value - min.value)) * STEPS)
  return v <= floor.value ? 0 : Math.round((Math.log(v / floor.value) / Math.log(max.value / floor.value)) * STEPS)
})
function valueAt(step: number): number {
  if (step <= 0) return min.value
  if (step >= STEPS) return max.value
  const v =
    props.parameter.law === 'ratio'
      ? floor.value * (max.value / floor.value) ** (step / STEPS)
      : min.value + (step / STEPS) * (max.value - min.value)
  return Number(v.toPrecision(3))
}
async function type(): Promise<void> {
  const { label, unit } = props.parameter
  const v = await askNumber({ title: label, unit, min: min.value, max: max.value, initial: props.value as number })
  if (typeof v === 'number') emit('done', v)
}
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
    <template v-else>
      <SlideBar
        :value="at"
        :min="0"
        :max="STEPS"
        :label="parameter.label"
        @move="v => emit('move', valueAt(v))"
        @done="v => emit('done', valueAt(v))"
        @dblclick="emit('done', parameter.initial)"
      />
      <button class="plain num" title="type a value" @click="type">{{ written(value, parameter.unit) }}</button>
    </template>
  </div>
</template>

<style scoped>
.param {
  display: grid;
  grid-template-columns: 92px 1fr 78px;
  gap: 10px;
  align-items: center;
  height: 26px;
}
.tilde {
  color: var(--acting);
  font-weight: 700;
  padding-right: 4px;
}
.param > .el-select {
  grid-column: 2 / 4;
}
</style>

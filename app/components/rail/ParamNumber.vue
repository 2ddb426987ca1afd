<script setup lang="ts">
// A parameter as a number alone, dragged up and down or typed.
import { computed } from 'vue'
import type { Parameter } from '@nullet/core/processors/processor'
import { MINUS, value as written } from '~/words/format'
import { numberFault, readNumber } from '~/words/number'
import { useAsk } from '~/stores/ask'

const props = defineProps<{ parameter: Parameter; value: number | null }>()
const emit = defineEmits<{ done: [value: number | null] }>()
const ask = useAsk()
const shown = computed(() =>
  props.value === null ? `${props.parameter.label} off` : written(props.value, props.parameter.unit)
)
async function type(): Promise<void> {
  const { label, unit, min, max } = props.parameter
  const text = await ask.ask({
    title: label,
    kind: 'text',
    initial: String(props.value ?? 'off').replace('-', MINUS),
    placeholder: `${min} to ${max} ${unit ?? ''}, or off`,
    fault: typed => (typed.trim() === 'off' ? null : numberFault({ unit, min, max })(typed))
  })
  if (text === null) return
  const read = readNumber(text, { unit, min, max })
  emit('done', 'value' in read ? read.value : null)
}
</script>

<template>
  <button class="plain num" :title="`${parameter.label}: type a value`" :aria-label="parameter.label" @click="type">
    {{ shown }}
  </button>
</template>

<style scoped>
.num {
  border-bottom: 1px dotted var(--rule);
  font-size: 12px;
}
</style>

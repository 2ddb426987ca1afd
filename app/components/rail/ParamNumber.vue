<script setup lang="ts">
// A parameter as a number alone, dragged up and down or typed.
import { computed } from 'vue'
import type { Parameter } from '@nullet/core/processors/processor'
import { parseNumber, value as written } from '~/words/format'
import { useAsk } from '~/stores/ask'

const props = defineProps<{ parameter: Parameter; value: number | null }>()
const emit = defineEmits<{ done: [value: number | null] }>()
const ask = useAsk()
const shown = computed(() =>
  props.value === null ? `${props.parameter.label} off` : written(props.value, props.parameter.unit)
)
async function type(): Promise<void> {
  const text = await ask.ask({
    title: props.parameter.label,
    kind: 'text',
    initial: String(props.value ?? ''),
    placeholder: `${props.parameter.min} to ${props.parameter.max} ${props.parameter.unit ?? ''}${props.value === null ? ', or off' : ''}`
  })
  if (text === null) return
  if (text === 'off') emit('done', null)
  else {
    const v = parseNumber(text)
    if (!Number.isNaN(v)) emit('done', v)
  }
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

<script setup lang="ts">
// The impulse response of a slot: one made by code, audio of the session that is short enough, or a file brought in
// here.
import { computed, ref } from 'vue'
import { LONGEST_RESPONSE_S } from '@nullet/core/processors/convolution'
import { RESPONSES } from '@nullet/core/processors/responses'
import { rows, settings } from '@nullet/core/session/session'
import { useImports } from '~/stores/imports'
import { useSession } from '~/stores/session'

const props = defineProps<{ value: string; slotId: string }>()
const emit = defineEmits<{ done: [id: string] }>()
const store = useSession(),
  imports = useImports()
const picker = ref<HTMLInputElement>()
const made = Object.entries(RESPONSES).map(([value, r]) => ({ value, label: r.label }))
const media = computed(() =>
  rows(store.session!, 'medium')
    .filter(m => m.frames > 0 && m.frames <= LONGEST_RESPONSE_S * settings(store.session!).sampleRate)
    .map(m => ({ value: m.id, label: `${m.name}, ${(m.frames / m.sampleRate).toFixed(1)} s` }))
    .sort((a, b) => (a.label < b.label ? -1 : 1))
)
const missing = computed(
  () => !made.some(m => m.value === props.value) && !media.value.some(m => m.value === props.value)
)
async function picked(e: Event): Promise<void> {
  const input = e.target as HTMLInputElement,
    file = input.files?.[0]
  input.value = ''
  if (file) await imports.bringResponse(file, props.slotId)
}
</script>

<template>
  <div class="response">
    <span class="caption">Response</span>
    <el-select
      :model-value="value"
      size="small"
      filterable
      aria-label="impulse response"
      @change="(v: string) => emit('done', v)"
    >
      <el-option v-if="missing" :value="value" :label="`${value} (not here)`" disabled />
      <el-option-group label="made by code"
        ><el-option v-for="m in made" :key="m.value" :value="m.value" :label="m.label"
      /></el-option-group>
      <el-option-group v-if="media.length" label="audio of this session"
        ><el-option v-for="m in media" :key="m.value" :value="m.value" :label="m.label"
      /></el-option-group>
    </el-select>
    <button class="plain act" @click="picker?.click()">bring in audio…</button>
    <input ref="picker" type="file" accept=".wav,audio/wav" hidden data-response @change="picked" />
  </div>
</template>

<style scoped>
.response {
  display: grid;
  grid-template-columns: 92px 1fr auto;
  gap: 10px;
  align-items: center;
  height: 26px;
}
.act {
  color: var(--acting);
  font-size: 12px;
}
</style>

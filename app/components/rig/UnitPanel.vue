<script setup lang="ts">
// A unit's panel: power, what it is, its settings.
import { computed } from 'vue'
import { UNITS, unitSettings } from '@nullet/core/rig/units'
import type { Params } from '@nullet/core/session/rows'
import { useSession } from '~/stores/session'

const props = defineProps<{ id: string }>()
defineEmits<{ close: [] }>()
const store = useSession()
const unit = computed(() => store.session!.unit[props.id]!)
const model = computed(() => UNITS[unit.value.model])
const values = computed<Params>(() => (model.value ? unitSettings(model.value, unit.value.settings) : {}))
</script>

<template>
  <section class="unit">
    <div class="head">
      <h2 class="title">{{ unit.name }}</h2>
      <el-switch
        v-if="!model?.passive"
        :model-value="unit.powered"
        active-text="on"
        inactive-text="off"
        :aria-label="`power of ${unit.name}`"
        @change="v => store.apply('setUnit', { id, fields: { powered: v } })"
      />
      <button class="plain" aria-label="close" @click="$emit('close')">×</button>
    </div>
    <p class="quiet">{{ model?.about }}</p>
    <ParamField
      v-for="p in model?.settings ?? []"
      :key="p.name"
      :parameter="p"
      :value="values[p.name]!"
      @move="v => store.preview('unit', [id], row => ({ settings: { ...(row.settings as Params), [p.name]: v } }))"
      @done="v => store.apply('setUnit', { id, fields: { settings: { [p.name]: v } } })"
    />
    <hr class="rule" />
  </section>
</template>

<style scoped>
.head {
  display: flex;
  gap: 12px;
  align-items: center;
}
.head .title {
  flex: 1;
}
p {
  margin: 4px 0 10px;
}
</style>

<script setup lang="ts">
// A cable: what it joins, whether it is plugged or normalled, whether it turns polarity, what keeps it from carrying
// anything.
import { computed } from 'vue'
import { cableName } from '@nullet/core/graph/cables'
import { deadCable } from '@nullet/core/graph/deadLoop'
import { useSession } from '~/stores/session'
import { useRigGestures } from './rigGestures'

const props = defineProps<{ id: string }>()
const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  { pull } = useRigGestures()
const cable = computed(() => store.session!.cable[props.id]!)
const dead = computed(() => deadCable(store.session!, cable.value))
const HOW = {
  plugged: 'in front of the bay',
  half: 'until a plug is in the jack it ends in',
  full: 'until a plug is in either jack'
}
function remove(): void {
  const row = cable.value
  emit('close')
  pull(row)
}
</script>

<template>
  <section data-cable-panel>
    <PanelHead title="Cable" @close="emit('close')" />
    <p>{{ cableName(store.session!, cable) }}</p>
    <p v-if="dead" class="quiet">It carries nothing: {{ dead.reason }}.</p>
    <div class="how">
      <el-select
        :model-value="cable.normalled ?? 'plugged'"
        size="small"
        aria-label="plugged or normalled"
        @change="(v: string) => store.apply('setCable', { id, fields: { normalled: v === 'plugged' ? null : v } })"
        ><el-option value="plugged" label="plugged" /><el-option value="half" label="normalled, half" /><el-option
          value="full"
          label="normalled, full" /></el-select
      ><span class="caption">{{ HOW[cable.normalled ?? 'plugged'] }}</span>
    </div>
    <el-checkbox
      :model-value="cable.inverts"
      @change="(v: unknown) => store.apply('setCable', { id, fields: { inverts: !!v } })"
      >turns polarity: its wires are crossed at one end</el-checkbox
    >
    <div class="row"><button class="plain quiet" @click="remove">remove</button></div>
    <hr class="rule" />
  </section>
</template>

<style scoped>
p {
  margin: 4px 0 8px;
}
.how {
  display: grid;
  grid-template-columns: 150px 1fr;
  gap: 10px;
  align-items: center;
  margin-bottom: 6px;
}
.row {
  display: flex;
  justify-content: flex-end;
}
</style>

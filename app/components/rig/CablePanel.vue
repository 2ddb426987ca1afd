<script setup lang="ts">
// A cable: what it joins, whether it turns polarity, what keeps it from carrying anything.
import { computed } from 'vue'
import { deadCable } from '@nullet/core/graph/deadLoop'
import { UNITS } from '@nullet/core/rig/units'
import { useSession } from '~/stores/session'
import { useRigGestures } from './rigGestures'

const props = defineProps<{ id: string }>()
const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  { pull } = useRigGestures()
const cable = computed(() => store.session!.cable[props.id]!)
const SIDES = { from: 'outputs', to: 'inputs' } as const
function end(side: 'from' | 'to'): string {
  const s = store.session!,
    { fromPort, fromUnit, fromJack, toPort, toUnit, toJack } = cable.value
  const [port, unit, jack] = side === 'from' ? [fromPort, fromUnit, fromJack] : [toPort, toUnit, toJack]
  if (port) return s.port[port]?.name ?? ''
  const at = s.unit[unit ?? '']
  return `${at?.name} ${UNITS[at?.model ?? '']?.[SIDES[side]][jack] ?? ''}`.trim()
}
const dead = computed(() => deadCable(store.session!, cable.value))
function remove(): void {
  const row = cable.value
  emit('close')
  pull(row)
}
</script>

<template>
  <section data-cable-panel>
    <PanelHead title="Cable" @close="emit('close')" />
    <p>{{ end('from') }} → {{ end('to') }}</p>
    <p v-if="dead" class="quiet">It carries nothing: {{ dead.reason }}.</p>
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
.row {
  display: flex;
  justify-content: flex-end;
}
</style>

<script setup lang="ts">
// A port: its name, what kind of signal it takes, its reference level and trim, what it carries and what the interface
// itself sends there.
import { computed } from 'vue'
import { cableName } from '@nullet/core/graph/cables'
import { portDbu } from '@nullet/core/graph/portDbu'
import { rows } from '@nullet/core/session/session'
import { dB } from '~/words/format'
import { useAsk } from '~/stores/ask'
import { useSession } from '~/stores/session'
import { useRigGestures } from './rigGestures'

const props = defineProps<{ id: string }>()
const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  ask = useAsk(),
  { pull } = useRigGestures()
const port = computed(() => store.session!.port[props.id]!)
const device = computed(() => store.session!.interface[port.value.interface]!)
const set = (fields: object) => store.apply('setPort', { id: props.id, fields })
const users = computed(() => {
  const s = store.session!
  const loops = rows(s, 'loop').filter(l => [...l.outPorts, ...l.inPorts].includes(props.id))
  const feeds = rows(s, 'feed').filter(f => f.ports.includes(props.id))
  return [
    ...loops.map(l => `loop “${l.name}”`),
    ...feeds.map(f => `“${s.channel[f.from ?? f.to ?? '']?.name}” at ${f.levelDb === null ? '−∞' : dB(f.levelDb)} dB`)
  ]
})
const routes = computed(() =>
  rows(store.session!, 'cable').filter(c => c.inside && [c.fromPort, c.toPort].includes(props.id))
)
async function rename(): Promise<void> {
  const name = await ask.ask({ title: 'Name of the port', kind: 'text', act: 'Rename', initial: port.value.name })
  if (name) set({ name })
}
</script>

<template>
  <section data-port-panel>
    <PanelHead :title="port.name" @close="emit('close')"
      ><button class="plain act" @click="rename">rename…</button></PanelHead
    >
    <p class="quiet">
      {{ port.direction === 'out' ? 'Output' : 'Input' }} of {{ device.name }}.
      {{ users.length ? `It carries ${users.join(', ')}.` : 'Nothing uses it.' }}
    </p>
    <div class="row">
      <span class="caption">signal</span>
      <el-select
        :model-value="port.signal"
        size="small"
        class="which"
        :aria-label="`signal of ${port.name}`"
        @change="(signal: string) => set({ signal })"
        ><el-option value="analog" label="analog" /><el-option value="digital" label="digital"
      /></el-select>
    </div>
    <div class="row">
      <span class="caption">0 dBFS is</span>
      <NumberField
        :quantity="{ label: `reference of ${port.name}`, min: -20, max: 30, initial: device.referenceDbu }"
        :value="portDbu(store.session!, id)"
        @done="v => v !== null && set({ referenceDbu: v === device.referenceDbu ? null : v })"
      /><span class="caption">dBu{{ port.referenceDbu === null ? ', as its interface' : '' }}</span>
    </div>
    <div v-if="port.direction === 'out'" class="row">
      <span class="caption">trim</span>
      <NumberField
        :quantity="{ label: `trim of ${port.name}`, unit: 'dB', min: -24, max: 24, initial: 0 }"
        :value="port.trimDb"
        @done="v => v !== null && set({ trimDb: v })"
      /><span class="caption">before the converter, so that outputs match</span>
    </div>
    <p v-for="r in routes" :key="r.id" class="mind">
      The interface itself sends {{ cableName(store.session!, r) }}.
      <button class="plain act" @click="pull(r)">remove that route</button>
    </p>
    <hr class="rule" />
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 90px 120px 1fr;
  gap: 8px;
  align-items: center;
  min-height: 30px;
}
.which {
  width: 110px;
}
.act {
  color: var(--acting);
}
p {
  margin: 4px 0 8px;
}
</style>

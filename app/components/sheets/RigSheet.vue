<script setup lang="ts">
// A rig: one of the ready ones as it is, or changed to the interface that stands in the room.
import { computed, reactive, ref } from 'vue'
import { READY_RIGS, rigRows, type SecondInterface } from '@nullet/core/rig/readyRigs'
import { UNITS } from '@nullet/core/rig/units'
import { rows, settings } from '@nullet/core/session/session'
import { plural } from '~/words/format'
import { newId, orderAtEnd } from '~/stores/ids'
import { useSession } from '~/stores/session'

const emit = defineEmits<{ close: [] }>()
const store = useSession()
const chosen = ref(0)
const ready = computed(() => READY_RIGS[chosen.value]!)
const own = reactive({ ...READY_RIGS[0]! })
const second = reactive<SecondInterface>({
  interface: 'Expander',
  outs: 8,
  ins: 8,
  digitalOuts: 0,
  digitalIns: 0,
  referenceDbu: 18,
  reportedLatencySamples: 128,
  clock: 'locked',
  driftPpm: 0
})
const hasSecond = ref(false)
const start = () => Object.assign(own, ready.value)
/** Ports that the units of the ready rig need. */
const least = computed(() => ({
  outs: Math.max(0, ...ready.value.units.flatMap(u => u.from)),
  ins: Math.max(0, ...ready.value.units.flatMap(u => u.to))
}))
const fieldsOf = (outs: number, ins: number) =>
  [
    { of: 'outs', label: 'line outs', min: outs, max: 64 },
    { of: 'ins', label: 'line ins', min: ins, max: 64 },
    { of: 'digitalOuts', label: 'digital outs', min: 0, max: 64 },
    { of: 'digitalIns', label: 'digital ins', min: 0, max: 64 },
    { of: 'referenceDbu', label: '0 dBFS is, in dBu', min: -20, max: 30 },
    { of: 'reportedLatencySamples', label: 'driver’s latency in samples', min: 0, max: 20000 }
  ] as const
const devices = computed(() => [
  { of: own, initial: ready.value, fields: fieldsOf(Math.max(1, least.value.outs), Math.max(1, least.value.ins)) },
  ...(hasSecond.value ? [{ of: second, initial: second, fields: fieldsOf(0, 0) }] : [])
])
const portCount = (kinds: ('outs' | 'ins' | 'digitalOuts' | 'digitalIns')[]) =>
  devices.value.reduce((n, d) => n + kinds.reduce((m, kind) => m + d.of[kind], 0), 0)
/** “3, 4”, “3 to 18”. */
const ports = (list: readonly number[]) => (list.length > 2 ? `${list[0]} to ${list.at(-1)}` : list.join(', '))
const count = computed(
  () =>
    `${plural(portCount(['outs', 'digitalOuts']), 'out', 'outs')}, ${plural(portCount(['ins', 'digitalIns']), 'in', 'ins')}`
)
const named = computed(() => own.name.trim() && devices.value.every(d => d.of.interface.trim()))

function make(): void {
  const id = newId('rig')
  const d = {
    ...own,
    name: own.name.trim(),
    interface: own.interface.trim(),
    second: hasSecond.value ? { ...second } : null
  }
  const edits = [
    {
      verb: 'addRows',
      args: { label: `New rig “${d.name}”`, rows: rigRows(d, id, orderAtEnd(rows(store.session!, 'rig'))) }
    },
    ...(settings(store.session!).rig ? [] : [{ verb: 'setSession', args: { rig: id } }])
  ]
  if (store.apply('several', { label: `New rig “${d.name}”`, edits })) emit('close')
}
</script>

<template>
  <div class="ready" role="radiogroup" aria-label="what to begin with">
    <label v-for="(r, i) in READY_RIGS" :key="r.name" :class="{ on: chosen === i }" :data-ready="r.name">
      <input v-model="chosen" type="radio" :value="i" name="ready" @change="start" />
      <span
        ><b>{{ r.name }}</b
        ><br /><span class="quiet">{{ r.for }}</span></span
      >
    </label>
  </div>
  <label class="name"
    >name of the rig <el-input v-model="own.name" size="small" maxlength="200" aria-label="name of the rig"
  /></label>
  <div v-for="(d, i) in devices" :key="i" class="fields" :data-interface="i + 1">
    <label
      >{{ i ? 'second interface' : 'interface' }}
      <el-input
        v-model="d.of.interface"
        size="small"
        maxlength="200"
        :aria-label="i ? 'name of the second interface' : 'name of the interface'"
    /></label>
    <label v-for="f in d.fields" :key="f.of"
      >{{ f.label }}
      <NumberField
        :quantity="{
          label: i ? `${f.label} of the second interface` : f.label,
          min: f.min,
          max: f.max,
          initial: d.initial[f.of],
          step: 1,
          whole: true,
          write: v => String(v)
        }"
        :value="d.of[f.of]"
        @done="v => v !== null && (d.of[f.of] = f.of === 'referenceDbu' ? v : Math.round(v))"
    /></label>
    <template v-if="i"
      ><label
        >its clock
        <el-select v-model="second.clock" size="small" aria-label="clock of the second interface"
          ><el-option value="locked" label="locked to the first" /><el-option value="free" label="runs free"
        /></el-select>
      </label>
      <label v-if="second.clock === 'free'"
        >drift in ppm
        <NumberField
          :quantity="{ label: 'drift of the second interface in ppm', min: -200, max: 200, initial: 0 }"
          :value="second.driftPpm"
          @done="v => v !== null && (second.driftPpm = v)" /></label
    ></template>
  </div>
  <el-checkbox v-model="hasSecond" data-second>two interfaces at once</el-checkbox>
  <p class="quiet units">
    <template v-if="ready.units.length"
      >With:
      {{
        ready.units.map(u => `${UNITS[u.model]!.label}, from out ${ports(u.from)} to in ${ports(u.to)}`).join('; ')
      }}.</template
    ><template v-else>Without units: add them in the Rig view, and cables by dragging from jack to jack.</template>
    Everything can be changed there.
  </p>
  <SheetEnd label="Make the rig" :disabled="!named" :note="count" @close="emit('close')" @done="make" />
</template>

<style scoped>
.ready {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 8px;
}
.ready label {
  display: flex;
  gap: 8px;
  align-items: flex-start;
  padding: 10px;
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  cursor: pointer;
}
.ready label.on {
  border-color: var(--acting);
  background: var(--acting-soft);
}
.ready input {
  accent-color: var(--acting);
  margin-top: 3px;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 20px;
  margin-top: 16px;
}
.fields label {
  display: grid;
  grid-template-columns: 170px 1fr;
  gap: 8px;
  align-items: center;
}
.name {
  display: grid;
  grid-template-columns: 170px 1fr;
  gap: 8px;
  align-items: center;
  margin-top: 16px;
}
.fields + .fields {
  padding-top: 12px;
  border-top: 1px solid var(--rule);
}
.units {
  margin: 12px 0 0;
}
</style>

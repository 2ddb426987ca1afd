<script setup lang="ts">
// One room: ports out, units, ports in, the cables between; loops with what was measured.
import { computed, ref, watch } from 'vue'
import { useRoute } from '#imports'
import { portsOfRig } from '@nullet/core/propose/outputs'
import { byId, byOrder, rows, settings } from '@nullet/core/session/session'
import { holderOf } from '@nullet/core/graph/holder'
import type { Loop } from '@nullet/core/session/rows'
import type { FitItem } from '../shell/FitRow.vue'
import { useAsk } from '~/stores/ask'
import { useJobs } from '~/stores/jobs'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useRigGestures } from './rigGestures'

const store = useSession(),
  shell = useShell(),
  ask = useAsk(),
  jobs = useJobs(),
  notices = useNotices(),
  route = useRoute()
const { newLoop, newUnit } = useRigGestures()
const rigs = computed(() => rows(store.session!, 'rig').sort(byOrder))
const shown = ref(settings(store.session!).rig ?? rigs.value[0]?.id ?? '')
/** A unit, a port or a cable that is opened, and a loop: one does not close the other. */
const open = ref<string | null>(null),
  openLoop = ref<string | null>(null)
watch(
  () => route.query.at,
  at => {
    const id = String(at ?? ''),
      s = store.session!
    const owner =
      s.unit[id]?.rig ??
      s.cable[id]?.rig ??
      s.loop[id]?.rig ??
      (s.port[id] ? s.interface[s.port[id]!.interface]!.rig : undefined)
    if (owner) {
      shown.value = owner
      if (s.loop[id]) openLoop.value = id
      else open.value = id
    }
  },
  { immediate: true }
)
const face = ref<'drawing' | 'outputs' | 'bay'>('drawing')
const rig = computed(() => store.session!.rig[shown.value])
const devices = computed(() =>
  rows(store.session!, 'interface')
    .filter(i => i.rig === shown.value)
    .sort(byId)
)
const loops = computed(() =>
  rows(store.session!, 'loop')
    .filter(l => l.rig === shown.value)
    .sort(byOrder)
)
const unit = computed(() => store.session!.unit[open.value ?? ''])
const port = computed(() => store.session!.port[open.value ?? ''])
const cable = computed(() => store.session!.cable[open.value ?? ''])
const holder = (loop: Loop) => store.session!.channel[holderOf(store.session!, loop)?.channel ?? '']?.name
const reports = computed(() =>
  devices.value.map(d => `${d.name}: driver reports ${d.reportedLatencySamples} samples`).join('\n')
)
const free = computed(() => {
  const used = new Set([
    ...loops.value.flatMap(l => [...l.outPorts, ...l.inPorts]),
    ...rows(store.session!, 'feed').flatMap(f => f.ports)
  ])
  const mine = [...portsOfRig(store.session!, shown.value, 'out'), ...portsOfRig(store.session!, shown.value, 'in')]
  return {
    out: mine.filter(p => p.direction === 'out' && !used.has(p.id)).length,
    in: mine.filter(p => p.direction === 'in' && !used.has(p.id)).length
  }
})
async function makeLoop(): Promise<void> {
  const id = await newLoop(shown.value)
  if (id) openLoop.value = id
}
async function makeUnit(): Promise<void> {
  const id = await newUnit(shown.value)
  if (id) open.value = id
}
const verbs = computed((): FitItem[] => [
  ...(settings(store.session!).rig === shown.value
    ? []
    : [{ label: 'work in this rig…', look: 'acting', run: () => (face.value = 'outputs') }]),
  { label: 'new unit…', look: 'acting', run: makeUnit },
  { label: 'rig library…', look: 'acting', run: () => (shell.sheet = 'rigs'), attrs: { 'data-rig-library': '' } },
  { label: 'new rig…', look: 'acting', run: () => (shell.sheet = 'rig') },
  { label: 'rename…', run: renameRig },
  { label: 'remove rig', run: removeRig }
])
const first: { label: string; run(): void; attrs: Record<string, string> }[] = [
  { label: 'Describe a rig…', run: () => void (shell.sheet = 'rig'), attrs: { 'data-new-rig': '' } },
  { label: 'From the rig library…', run: () => void (shell.sheet = 'rigs'), attrs: { 'data-rig-library': '' } }
]
async function renameRig(): Promise<void> {
  const name = await ask.ask({ title: 'Name of the rig', kind: 'text', act: 'Rename', initial: rig.value!.name })
  if (name) store.apply('setRig', { id: shown.value, fields: { name } })
}
function removeRig(): void {
  const { name } = rig.value!
  if (store.apply('removeRig', { id: shown.value })) notices.tell(`Rig “${name}” is removed.`, store.thisUndo())
}
async function pingAll(): Promise<void> {
  for (const l of loops.value) await jobs.start('ping', `Ping of ${l.name}`, { loop: l.id })
}
// A rig that comes is looked at.
watch(
  () => rigs.value.map(r => r.id).join(),
  (now, before) => {
    const known = new Set(before.split(','))
    const made = rigs.value.find(r => !known.has(r.id))
    if (made) shown.value = made.id
    else if (!store.session!.rig[shown.value]) shown.value = rigs.value[0]?.id ?? ''
  }
)
</script>

<template>
  <EmptyView v-if="!rig" title="No room is described yet" :steps="first">
    A rig is an interface with its ports, the units in the room and the cables between. With one, a channel can go
    through hardware and back: re-amping, an analog compressor, a summing unit. Every loop is measured, so that it comes
    back in time.
  </EmptyView>
  <div v-else class="rigview">
    <div class="tools">
      <el-radio-group v-model="shown" size="small" aria-label="rig"
        ><el-radio-button v-for="r in rigs" :key="r.id" :value="r.id">{{ r.name }}</el-radio-button></el-radio-group
      >
      <el-radio-group v-model="face" size="small" aria-label="what is shown of the rig"
        ><el-radio-button value="drawing">drawing</el-radio-button
        ><el-radio-button value="outputs">outputs</el-radio-button
        ><el-radio-button value="bay">patch bay</el-radio-button></el-radio-group
      >
      <span v-if="devices.length" class="quiet clip count" :title="reports"
        >{{ devices.length === 1 ? `${reports} · ` : '' }}{{ free.out }} outs and {{ free.in }} ins free</span
      >
      <span v-for="d in devices" :key="d.id" class="clock"
        ><span class="caption">{{ devices.length > 1 ? `${d.name}: ` : '' }}clock</span>
        <el-select
          :model-value="d.clock"
          size="small"
          class="which"
          :aria-label="`clock of ${d.name}`"
          @change="(clock: string) => store.apply('setInterface', { id: d.id, fields: { clock } })"
          ><el-option value="locked" label="locked" /><el-option value="free" label="free"
        /></el-select>
        <NumberField
          v-if="d.clock === 'free'"
          :quantity="{ label: `drift of ${d.name} in ppm`, min: -200, max: 200, initial: 0 }"
          :value="d.driftPpm"
          @done="v => v === null || store.apply('setInterface', { id: d.id, fields: { driftPpm: v } })"
      /></span>
      <FitRow :items="verbs" />
      <el-button size="small" type="primary" data-new-loop @click="makeLoop">New loop…</el-button>
    </div>
    <div class="body">
      <OutputsTable v-if="face === 'outputs'" :rig="shown" @open="id => (open = open === id ? null : id)" />
      <PatchBay v-else-if="face === 'bay'" :rig="shown" @open="id => (open = open === id ? null : id)" />
      <RigDrawing v-else :rig="shown" :open="open" :loop="openLoop" @open="id => (open = open === id ? null : id)" />
      <aside class="scroll side">
        <UnitPanel v-if="unit" :id="unit.id" @close="open = null" />
        <PortPanel v-if="port" :id="port.id" @close="open = null" />
        <CablePanel v-if="cable" :id="cable.id" @close="open = null" />
        <div class="loops">
          <h2 class="title">Loops</h2>
          <el-button v-if="loops.length > 1" size="small" data-ping-all @click="pingAll">Ping all</el-button>
        </div>
        <p v-if="!loops.length" class="quiet">
          No loop yet. A loop leaves by ports out, goes through units and comes back at ports in; it can then be put
          into any channel’s rail.
        </p>
        <LoopPanel
          v-for="l in loops"
          :key="l.id"
          :loop="l"
          :holder="holder(l)"
          :open="openLoop === l.id"
          @toggle="openLoop = openLoop === l.id ? null : l.id"
        />
      </aside>
    </div>
  </div>
</template>

<style scoped>
.rigview {
  display: flex;
  flex-direction: column;
  min-height: 0;
  flex: 1;
}
.clock {
  display: flex;
  gap: 6px;
  align-items: center;
}
.which {
  width: 84px;
}
.act {
  color: var(--acting);
}
.loops {
  display: flex;
  align-items: center;
  justify-content: space-between;
}
.body {
  display: flex;
  flex: 1;
  min-height: 0;
}
.side {
  width: 440px;
  flex: none;
  border-left: 1px solid var(--rule);
  background: var(--surface);
  padding: 14px 16px;
}
</style>

<script setup lang="ts">
// What is wired where nobody sees it: jacks that are normalled to others behind the bay, and what an interface sends
// from port to port by itself.
import { computed, reactive } from 'vue'
import { endName, plugOver, cableName } from '@nullet/core/graph/cables'
import { deadCable } from '@nullet/core/graph/deadLoop'
import { jacksOfRig, normalsInARow } from '@nullet/core/propose/jacks'
import { portsOfRig } from '@nullet/core/propose/outputs'
import type { Cable } from '@nullet/core/session/rows'
import { rows } from '@nullet/core/session/session'
import { GAIN } from '~/numbers/quantity'
import { newId } from '~/stores/ids'
import { useSession } from '~/stores/session'
import { useRigGestures } from './rigGestures'

const props = defineProps<{ rig: string }>()
const emit = defineEmits<{ open: [id: string] }>()
const store = useSession(),
  { pull } = useRigGestures()
const session = computed(() => store.session!)
const mine = computed(() => rows(session.value, 'cable').filter(c => c.rig === props.rig))
const kept = (wanted: (c: Cable) => boolean) =>
  mine.value
    .filter(wanted)
    .map(cable => ({
      cable,
      from: endName(session.value, cable, 'from'),
      to: endName(session.value, cable, 'to'),
      plug: plugOver(session.value, cable),
      dead: deadCable(session.value, cable)?.reason
    }))
    .sort((a, b) => a.from.localeCompare(b.from, undefined, { numeric: true }))
const normals = computed(() => kept(c => c.normalled !== null))
const routes = computed(() => kept(c => c.inside))

const jacks = computed(() => ({
  from: jacksOfRig(session.value, props.rig, 'from'),
  to: jacksOfRig(session.value, props.rig, 'to')
}))
const row = reactive({ from: '', to: '', count: 1, kind: 'half' as 'half' | 'full' })
function normal(): void {
  const edit = normalsInARow(session.value, { rig: props.rig, ...row }, newId)
  if (edit && store.apply(edit.verb, edit.args)) Object.assign(row, { from: '', to: '' })
}

const ports = computed(() => [
  ...portsOfRig(session.value, props.rig, 'in'),
  ...portsOfRig(session.value, props.rig, 'out')
])
const route = reactive({ from: '', to: '' })
/** A route stays inside its interface. */
const ends = computed(() => {
  const device = session.value.port[route.from]?.interface
  return ports.value.filter(p => p.interface === device && p.id !== route.from)
})
function send(): void {
  const args = { id: newId(), rig: props.rig, from: { port: route.from }, to: { port: route.to }, inside: true }
  if (store.apply('addCable', args)) Object.assign(route, { from: '', to: '' })
}
const set = (id: string, fields: object) => store.apply('setCable', { id, fields })
</script>

<template>
  <div class="scroll bay" data-patch-bay>
    <h2 class="title">Normalled</h2>
    <p class="quiet">
      Wired behind the patch bay: it carries until something is plugged into the jack that it ends in. Normalled full, a
      plug in the jack that it leaves opens it too; half, that one only listens.
    </p>
    <table v-if="normals.length">
      <thead class="caption">
        <tr>
          <th>from</th>
          <th>to</th>
          <th>kind</th>
          <th>now</th>
          <td />
        </tr>
      </thead>
      <tbody>
        <tr v-for="n in normals" :key="n.cable.id" :data-normal="n.cable.id">
          <td>{{ n.from }}</td>
          <td>{{ n.to }}</td>
          <td>
            <el-select
              :model-value="n.cable.normalled"
              size="small"
              class="kind"
              :aria-label="`kind of ${n.from} → ${n.to}`"
              @change="(normalled: string) => set(n.cable.id, { normalled })"
              ><el-option value="half" label="half" /><el-option value="full" label="full"
            /></el-select>
          </td>
          <td v-if="n.plug" class="mind">
            opened by {{ cableName(session, n.plug) }}
            <button class="plain act" @click="pull(n.plug)">pull that plug</button>
          </td>
          <td v-else :class="n.dead ? 'mind' : 'signal'">{{ n.dead ? `carries nothing: ${n.dead}` : 'through' }}</td>
          <td class="end">
            <button class="plain act" @click="emit('open', n.cable.id)">open</button>
            <button class="plain quiet" :aria-label="`remove ${n.from} → ${n.to}`" @click="pull(n.cable)">
              remove
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="quiet">Nothing is normalled: every connection of this room is a plug.</p>
    <div class="form">
      <el-select v-model="row.from" size="small" filterable placeholder="from jack" aria-label="first jack that is left"
        ><el-option v-for="j in jacks.from" :key="j.key" :value="j.key" :label="j.name" /></el-select
      >→<el-select
        v-model="row.to"
        size="small"
        filterable
        placeholder="to jack"
        aria-label="first jack that it ends in"
        ><el-option v-for="j in jacks.to" :key="j.key" :value="j.key" :label="j.name"
      /></el-select>
      <label class="caption"
        >so many in a row
        <NumberField
          :quantity="{
            label: 'normals in a row',
            min: 1,
            max: 64,
            initial: 1,
            step: 1,
            whole: true,
            write: v => `${v}`
          }"
          :value="row.count"
          @done="v => v !== null && (row.count = Math.round(v))"
      /></label>
      <el-select v-model="row.kind" size="small" class="kind" aria-label="half or full"
        ><el-option value="half" label="half" /><el-option value="full" label="full"
      /></el-select>
      <el-button size="small" :disabled="!row.from || !row.to" data-add-normal @click="normal">Normal</el-button>
    </div>

    <h2 class="title second">Inside the interface</h2>
    <p class="quiet">
      What its own mixer sends from port to port, whatever the session does: an input straight to an output, one output
      at another. It is heard, sent and printed with the rest, so most of these have to go.
    </p>
    <table v-if="routes.length">
      <thead class="caption">
        <tr>
          <th>from</th>
          <th>to</th>
          <th>level</th>
          <th>now</th>
          <td />
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in routes" :key="r.cable.id" :data-route="r.cable.id">
          <td>{{ r.from }}</td>
          <td>{{ r.to }}</td>
          <td>
            <NumberField
              :quantity="{ ...GAIN, label: `level of ${r.from} → ${r.to}` }"
              :value="r.cable.levelDb"
              @done="v => set(r.cable.id, { levelDb: v })"
            />
          </td>
          <td :class="r.dead ? 'mind' : 'signal'">{{ r.dead ?? 'through' }}</td>
          <td class="end">
            <button class="plain quiet" :aria-label="`remove ${r.from} → ${r.to}`" @click="pull(r.cable)">
              remove
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="quiet">It sends nothing by itself: what leaves is what the session sends.</p>
    <div class="form">
      <el-select v-model="route.from" size="small" filterable placeholder="from port" aria-label="port it is taken from"
        ><el-option v-for="p in ports" :key="p.id" :value="p.id" :label="p.name" /></el-select
      >→<el-select v-model="route.to" size="small" filterable placeholder="to port" aria-label="port it is added to"
        ><el-option v-for="p in ends" :key="p.id" :value="p.id" :label="p.name"
      /></el-select>
      <el-button size="small" :disabled="!route.from || !route.to" data-add-route @click="send">Send there</el-button>
    </div>
  </div>
</template>

<style scoped>
.bay {
  flex: 1;
  min-width: 0;
  padding: 14px 16px;
}
.second {
  margin-top: 28px;
}
p {
  max-width: 76ch;
  margin: 4px 0 10px;
}
table {
  border-collapse: collapse;
  margin-bottom: 10px;
}
th {
  text-align: left;
  font-weight: 400;
}
th,
td {
  padding: 3px 18px 3px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: middle;
}
.end {
  white-space: nowrap;
}
.end button + button {
  margin-left: 12px;
}
.signal {
  color: var(--signal);
}
.mind {
  color: var(--mind);
}
.form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.form .el-select {
  width: 180px;
}
.form label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.form .kind,
.kind {
  width: 80px;
}
.act {
  color: var(--acting);
}
</style>

<script setup lang="ts">
// How loud it is at every point of a loop and how much room is left, measured over a range; and a trim to a target.
import { computed, reactive, shallowRef, watch } from 'vue'
import { useOf } from '@nullet/core/graph/holder'
import { firstClip, type Level, type Rung } from '@nullet/core/measure/ladder'
import type { Loop } from '@nullet/core/session/rows'
import { dB } from '~/words/format'
import { useAnalyst } from '~/stores/analyst'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'

const props = defineProps<{ loop: Loop }>()
const store = useSession(),
  analyst = useAnalyst(),
  notices = useNotices()
const rungs = shallowRef<Rung[] | null>(null)
const measured = shallowRef('')
const busy = computed(() => analyst.busy === 'ladder' || analyst.busy === 'trim')
const clip = computed(() => (rungs.value ? firstClip(rungs.value) : undefined))
const waits = computed(() => {
  const { slot, sends } = useOf(store.session!, props.loop)
  return !slot && !sends.length
})
const target = reactive({ key: '', by: 'rms' as keyof Level, level: -18 })
const isAnalog = (r: Rung) => r.place === 'unit in' || r.place === 'unit out'
const unitOf = (r: Rung | undefined) => (r && isAnalog(r) ? 'dBu' : 'dBFS')
const aimed = computed(() => rungs.value?.find(r => r.key === target.key))

/** What was measured is no longer so when the loop's levels change by another hand. */
watch(
  () => props.loop.id,
  () => (rungs.value = null)
)

async function measure(): Promise<void> {
  const answer = await analyst.ask({ kind: 'ladder', loop: props.loop.id, range: analyst.range })
  if (answer) show(answer.rungs)
}
function show(found: Rung[]): void {
  rungs.value = found
  measured.value = analyst.rangeText
  if (!found.some(r => r.key === target.key)) target.key = found.find(r => r.place === 'unit in')?.key ?? found[0]!.key
}
async function trim(): Promise<void> {
  const answer = await analyst.ask({ kind: 'trim', loop: props.loop.id, range: analyst.range, target: { ...target } })
  if (!answer) return
  const { edit, reached, note } = answer
  show(answer.ladder)
  const where = `${aimed.value!.name}: ${dB(reached)} ${unitOf(aimed.value)}${note ? `; ${note}` : ''}.`
  if (!edit) notices.tell(where)
  else if (store.apply(edit.verb, edit.args)) notices.tell(where, store.thisUndo())
}
/** Width of the room that is left, 0 … 40 dB. */
const room = (r: Rung) => `${Math.max(0, Math.min(1, r.headroomDb / 40)) * 100}%`
const headroom = (r: Rung) => (r.headroomDb === Infinity ? '' : dB(r.headroomDb))
</script>

<template>
  <div class="ladder" data-ladder>
    <div class="do">
      <el-button v-if="!busy" size="small" :disabled="waits" data-measure-ladder @click="measure">{{
        rungs ? 'Measure again' : 'Measure levels'
      }}</el-button>
      <template v-else
        ><el-progress
          :percentage="Math.round(analyst.progress * 100)"
          :show-text="false"
          :stroke-width="4"
          class="bar"
        /><button class="plain quiet" @click="analyst.stop()">stop</button></template
      >
      <span class="caption">{{
        waits
          ? 'insert the loop on a channel first, or feed one to its ports: nothing is sent into it'
          : `from ${analyst.rangeText}`
      }}</span>
    </div>
    <template v-if="rungs">
      <table>
        <thead>
          <tr>
            <th scope="col">point</th>
            <th scope="col" class="num">peak</th>
            <th scope="col" class="num">dBu</th>
            <th scope="col" class="num">RMS</th>
            <th scope="col" colspan="2">headroom</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="r in rungs"
            :key="r.key"
            :class="{ clips: r.headroomDb < 0, first: clip?.key === r.key, analog: isAnalog(r) }"
            :data-rung="r.key"
          >
            <th scope="row" class="clip" :title="r.name">{{ r.name }}</th>
            <td class="num">{{ r.dbfs ? dB(r.dbfs.peak) : '' }}</td>
            <td class="num">{{ r.dbu ? dB(r.dbu.peak) : '' }}</td>
            <td class="num">{{ dB((isAnalog(r) ? r.dbu : r.dbfs)!.rms) }}</td>
            <td class="room">
              <i v-if="r.headroomDb !== Infinity"><i :style="{ width: room(r) }" /></i>
            </td>
            <td class="num">{{ headroom(r) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="clip" class="wrong">
        It clips first at {{ clip.name }}, by {{ dB(-clip.headroomDb) }} dB{{
          clip.place === 'in' ? ': lower what the unit puts out, or the send' : ': lower the send'
        }}.
      </p>
      <p class="caption">measured {{ measured }}; RMS in dBu at jacks, as a sine’s, else in dBFS</p>
      <div class="do" role="group" aria-label="trim to a target">
        <span class="caption">trim</span>
        <el-select v-model="target.key" size="small" class="where" aria-label="point to trim at"
          ><el-option v-for="r in rungs" :key="r.key" :value="r.key" :label="r.name"
        /></el-select>
        <el-select v-model="target.by" size="small" class="by" aria-label="peak or RMS"
          ><el-option value="rms" label="RMS" /><el-option value="peak" label="peak"
        /></el-select>
        <NumberField
          :quantity="{ label: `target in ${unitOf(aimed)}`, unit: 'dB', min: -80, max: 30, initial: -18 }"
          :value="target.level"
          @done="v => v !== null && (target.level = v)"
        /><span class="caption">{{ unitOf(aimed) }}</span>
        <el-button size="small" :disabled="busy || waits" data-trim @click="trim">Trim</el-button>
      </div>
    </template>
  </div>
</template>

<style scoped>
.do {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 6px 0;
}
.bar {
  width: 120px;
}
.where {
  width: 150px;
}
.by {
  width: 74px;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 12px;
  table-layout: fixed;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--ink-2);
}
thead th {
  font-size: 11px;
}
thead th:first-child {
  width: 41%;
}
.num {
  text-align: right;
}
td,
tbody th {
  padding: 2px 0 2px 8px;
  border-top: 1px solid var(--rule);
  height: 22px;
}
tbody th {
  padding-left: 0;
  color: var(--ink);
}
thead th[colspan] {
  padding-left: 12px;
}
.analog th {
  padding-left: 10px;
}
.room i {
  display: block;
  height: 5px;
  background: var(--track);
}
.room i i {
  background: var(--signal);
}
.clips td,
.clips th {
  color: var(--wrong);
}
.first th {
  font-weight: 500;
}
.wrong {
  color: var(--wrong);
}
p {
  margin: 4px 0;
}
</style>

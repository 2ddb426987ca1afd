<script setup lang="ts">
// A loop: where it goes, what its ping measured against what the driver reports, and what to do with it.
import { computed, ref } from 'vue'
import { holderOf, useOf, userNames, usersOf } from '@nullet/core/graph/holder'
import { centresFor } from '@nullet/core/measure/centres'
import { PING_DBFS, pingIsStale, reportedSamples } from '@nullet/core/measure/ping'
import { isTurned } from '@nullet/core/measure/polarity'
import { byOrder, rows } from '@nullet/core/session/session'
import type { Loop } from '@nullet/core/session/rows'
import { dB, whenText } from '~/words/format'
import { hintOf } from '~/session/whereTo'
import { useAsk } from '~/stores/ask'
import { useGestures } from '~/stores/gestures'
import { useCompare } from '~/stores/compare'
import { isOpen, useJobs } from '~/stores/jobs'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'

interface Result {
  measured: boolean
  reason?: string
  delaySamples: number
  delayMs: number
  reportedSamples: number
  inverted: boolean
  gainDb: number
  noiseDbfs: number
  distortionDb: number
  confidence: number
  levelDb: number
  clipped: boolean
  notes: string[]
  impulse: { from: number; samples: number[] }
}
/** So much lower a ping is tried again that clipped. */
const LOWER_DB = 12
const props = defineProps<{ loop: Loop; holder?: string; open: boolean }>()
const emit = defineEmits<{ toggle: [] }>()
const store = useSession(),
  jobs = useJobs(),
  ask = useAsk(),
  gestures = useGestures(),
  notices = useNotices(),
  compare = useCompare()
const slot = computed(() => holderOf(store.session!, props.loop))
const mine = computed(() => jobs.list.filter(j => j.kind === 'ping' && j.args.loop === props.loop.id))
const running = computed(() => mine.value.find(isOpen))
const last = computed(() => mine.value.find(j => j.state === 'done')?.result as Result | undefined)
const failed = computed(() =>
  mine.value[0]?.state === 'done' && last.value && !last.value.measured
    ? last.value.reason
    : mine.value[0]?.error?.message
)
const stale = computed(() => pingIsStale(store.session!, props.loop))
const reported = computed(() => reportedSamples(store.session!, props.loop))
const names = (ids: string[]) => ids.map(p => store.session!.port[p]?.name ?? p).join(', ')
const shows = ref<'levels' | 'response' | 'impulse' | 'history'>('levels')
/** Of its first way, as the last ping found it. */
const response = computed(() => {
  const side = props.loop.ping?.sides?.[0]
  return side?.responseDb.length ? { hz: centresFor(props.loop.ping!.sampleRate), db: side.responseDb } : null
})
const where = computed(() => {
  if (props.holder) return `plugged on ${props.holder}`
  const users = usersOf(store.session!, useOf(store.session!, props.loop))
  return users.length ? `between ${userNames(store.session!, users)}` : 'waiting: no slot holds it'
})
const sides = computed(() => (props.loop.ping?.sides?.length ?? 0) > 1 && props.loop.ping!.sides!)

async function ping(levelDb?: number): Promise<void> {
  await jobs.start('ping', `Ping of ${props.loop.name}`, {
    loop: props.loop.id,
    ...(levelDb === undefined ? {} : { levelDb })
  })
  shows.value = 'response'
  if (!props.open) emit('toggle')
}
function polarity(of: Parameters<typeof isTurned>[0]): string {
  const turned = isTurned(of)
  return turned === null ? 'not certain' : turned ? 'turned' : 'as sent'
}
function apply(): void {
  const p = props.loop.ping!
  // What is not certain is not turned.
  const turns = isTurned(p) === true
  if (store.apply('setLoop', { id: props.loop.id, fields: { applied: true, inverted: turns } }))
    notices.tell(`${p.delaySamples.toFixed(2)} samples are compensated now${turns ? ', polarity turned' : ''}.`)
}
async function insert(): Promise<void> {
  const to = await ask.ask({
    title: `Insert “${props.loop.name}” on…`,
    kind: 'choice',
    choices: rows(store.session!, 'channel')
      .sort(byOrder)
      .map(c => ({ value: c.id, label: c.name, hint: hintOf(store.network!, c.id) }))
  })
  if (to) await gestures.addSlot(to, undefined, props.loop.id)
}
</script>

<template>
  <section class="loop" :data-loop="loop.id">
    <div class="head">
      <button class="plain clip name" :aria-expanded="open" @click="emit('toggle')">{{ loop.name }}</button>
      <span class="quiet clip">{{ where }}</span>
      <el-button v-if="!running" size="small" data-ping @click="ping()">Ping</el-button>
      <template v-else
        ><el-progress
          :percentage="Math.round(running.progress * 100)"
          :show-text="false"
          :stroke-width="4"
          class="bar"
        /><button class="plain quiet" @click="jobs.stop(running.id)">stop</button></template
      >
    </div>
    <p class="caption">{{ names(loop.outPorts) }} → {{ names(loop.inPorts) }}</p>
    <p v-if="failed" class="wrong" role="alert">Not measured: {{ failed }}.</p>
    <dl v-if="loop.ping" class="facts" :class="{ stale }">
      <dt>delay</dt>
      <dd class="num" data-delay>{{ loop.ping.delaySamples.toFixed(2) }} samples</dd>
      <dd class="num">{{ ((loop.ping.delaySamples / loop.ping.sampleRate) * 1000).toFixed(3) }} ms</dd>
      <dt>driver reports</dt>
      <dd class="num">{{ reported }} samples</dd>
      <dd class="num quiet">{{ dB(loop.ping.delaySamples - reported, 2) }} apart</dd>
      <dt>polarity</dt>
      <dd class="word">{{ polarity(loop.ping) }}</dd>
      <dd />
      <dt>gain</dt>
      <dd class="num">{{ dB(loop.ping.gainDb) }} dB</dd>
      <dd class="num quiet">noise {{ dB(loop.ping.noiseDbfs) }} dBFS</dd>
      <dt>confidence</dt>
      <dd class="num">{{ Math.round(loop.ping.confidence * 100) }} %</dd>
      <dd class="num quiet">{{ whenText(loop.ping.measuredAt) }}</dd>
    </dl>
    <p v-if="last?.measured && last.clipped" class="wrong" role="alert">
      The return clipped: what was measured is that of a clipped signal.
      <button class="plain act" @click="ping(Math.max(-60, last.levelDb - LOWER_DB))">
        ping it {{ LOWER_DB }} dB lower
      </button>
    </p>
    <p v-for="n in last?.measured ? last.notes : []" :key="n" class="wrong">{{ n }}</p>
    <p v-if="!loop.compensated" class="mind">Not compensated: its return is as late as it comes.</p>
    <p v-if="stale" class="mind">The rig has changed since: ping it again.</p>
    <div class="row">
      <el-button v-if="loop.ping && !loop.applied" size="small" type="primary" data-apply @click="apply"
        >Apply</el-button
      >
      <span v-else-if="loop.applied && !stale" class="signal">applied</span>
      <button v-if="!holder" class="plain act" @click="insert">insert on…</button>
      <button
        v-else-if="slot"
        class="plain act"
        title="with the loop and without it, equally loud"
        data-compare
        @click="compare.beginSlots([slot.id])"
      >
        compare with bypass
      </button>
      <button
        class="plain quiet"
        :title="loop.compensated ? 'leave the return as late as it comes' : 'align the return with the rest'"
        data-compensate
        @click="store.apply('setLoop', { id: loop.id, fields: { compensated: !loop.compensated } })"
      >
        {{ loop.compensated ? 'do not compensate' : 'compensate' }}
      </button>
      <span class="space" />
      <button class="plain quiet" @click="store.apply('removeLoop', { id: loop.id })">remove</button>
    </div>
    <CompareSides v-if="slot" :ids="[slot.id]" />
    <template v-if="open">
      <el-radio-group v-model="shows" size="small" :aria-label="`what is shown of ${loop.name}`"
        ><el-radio-button value="levels">levels</el-radio-button
        ><el-radio-button value="response" :disabled="!response">response</el-radio-button
        ><el-radio-button value="impulse" :disabled="!last?.measured">impulse</el-radio-button
        ><el-radio-button value="history" :disabled="!loop.ping">history</el-radio-button></el-radio-group
      >
      <LevelLadder v-if="shows === 'levels'" :loop="loop" />
      <LoopHistory v-else-if="shows === 'history'" :loop="loop" />
      <template v-else>
        <LineChart
          v-if="shows === 'response' && response"
          :x="response.hz"
          :y="response.db"
          x-title="Hz"
          y-title="dB"
          :least="6"
          log
          label="frequency response of the loop"
        />
        <LineChart
          v-else-if="last?.measured"
          :x="last.impulse.samples.map((_, i) => last!.impulse.from + i)"
          :y="last.impulse.samples"
          x-title="samples after sending"
          y-title="amplitude"
          label="impulse response of the loop"
        />
        <p v-if="loop.ping?.distortionDb !== undefined" class="caption">
          distortion {{ dB(loop.ping.distortionDb) }} dB · measured with sine sweeps of
          {{ dB(loop.ping.levelDb ?? PING_DBFS) }} dBFS
        </p>
        <table v-if="sides" class="sides">
          <tbody>
            <tr v-for="side in sides" :key="side.name">
              <th scope="row" class="clip">{{ side.name }}</th>
              <td class="num">{{ side.gainDb === null ? 'nothing' : `${dB(side.gainDb)} dB` }}</td>
              <td class="num">{{ side.gainDb === null ? '' : side.delaySamples.toFixed(2) }}</td>
              <td>{{ side.gainDb === null ? '' : polarity(side) }}</td>
            </tr>
          </tbody>
        </table>
        <ChannelMatching :loop="loop" :stale="stale" />
      </template>
    </template>
  </section>
</template>

<style scoped>
.loop {
  padding: 10px 0;
  border-bottom: 1px solid var(--rule);
}
.head {
  display: flex;
  gap: 10px;
  align-items: center;
}
.name {
  font-weight: 500;
}
.head .quiet {
  flex: 1;
}
.bar {
  width: 90px;
}
p {
  margin: 3px 0;
}
.facts {
  display: grid;
  grid-template-columns: 100px 120px 1fr;
  gap: 2px 12px;
  margin: 6px 0;
  font-size: 12px;
}
dd {
  margin: 0;
}
dd.word {
  text-align: right;
}
dt {
  color: var(--ink-2);
}
.facts.stale {
  opacity: 0.6;
}
.row {
  display: flex;
  gap: 12px;
  align-items: center;
  margin: 6px 0;
}
.space {
  flex: 1;
}
.act {
  color: var(--acting);
}
.wrong {
  color: var(--wrong);
}
.mind {
  color: var(--mind);
}
.signal {
  color: var(--signal);
}
.sides {
  width: 100%;
  font-size: 12px;
  table-layout: fixed;
}
.sides th {
  text-align: left;
  font-weight: 400;
  width: 50%;
}
.sides .num {
  text-align: right;
}
</style>

<script setup lang="ts">
// A loop: where it goes, what its ping measured against what the driver reports, and what to do with it.
import { computed, ref } from 'vue'
import { pingIsStale } from '@nullet/core/measure/ping'
import { byOrder, rows } from '@nullet/core/session/session'
import type { Loop } from '@nullet/core/session/rows'
import { dB } from '~/words/format'
import { hintOf } from '~/session/whereTo'
import { useAsk } from '~/stores/ask'
import { useGestures } from '~/stores/gestures'
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
  response: { hz: number; db: number }[]
  impulse: { from: number; samples: number[] }
}
const props = defineProps<{ loop: Loop; holder?: string; open: boolean }>()
const emit = defineEmits<{ toggle: [] }>()
const store = useSession(),
  jobs = useJobs(),
  ask = useAsk(),
  gestures = useGestures(),
  notices = useNotices()
const mine = computed(() => jobs.list.filter(j => j.kind === 'ping' && j.args.loop === props.loop.id))
const running = computed(() => mine.value.find(isOpen))
const last = computed(() => mine.value.find(j => j.state === 'done')?.result as Result | undefined)
const failed = computed(() =>
  mine.value[0]?.state === 'done' && last.value && !last.value.measured
    ? last.value.reason
    : mine.value[0]?.error?.message
)
const stale = computed(() => pingIsStale(store.session!, props.loop))
const reported = computed(() => {
  const port = store.session!.port[props.loop.outPorts[0] ?? '']
  return port ? store.session!.interface[port.interface]!.reportedLatencySamples : 0
})
const names = (ids: string[]) => ids.map(p => store.session!.port[p]?.name ?? p).join(', ')
const chart = ref<'response' | 'impulse'>('response')

async function ping(): Promise<void> {
  await jobs.start('ping', `Ping of ${props.loop.name}`, { loop: props.loop.id })
  if (!props.open) emit('toggle')
}
function apply(): void {
  const p = props.loop.ping!
  if (store.apply('setLoop', { id: props.loop.id, fields: { applied: true, inverted: p.inverted } }))
    notices.tell(`${p.delaySamples.toFixed(2)} samples are compensated now${p.inverted ? ', polarity turned' : ''}.`)
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
      <span class="quiet clip">{{ holder ? `plugged on ${holder}` : 'waiting: no slot holds it' }}</span>
      <el-button v-if="!running" size="small" data-ping @click="ping">Ping</el-button>
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
      <dd>{{ loop.ping.inverted ? 'turned' : 'as sent' }}</dd>
      <dd />
      <dt>gain</dt>
      <dd class="num">{{ dB(loop.ping.gainDb) }} dB</dd>
      <dd class="num quiet">noise {{ dB(loop.ping.noiseDbfs) }} dBFS</dd>
      <dt>confidence</dt>
      <dd class="num">{{ Math.round(loop.ping.confidence * 100) }} %</dd>
      <dd class="num quiet">{{ loop.ping.measuredAt.slice(0, 16).replace('T', ' ') }}</dd>
    </dl>
    <p v-if="!loop.compensated" class="mind">Not compensated: its return is as late as it comes.</p>
    <div class="row">
      <span v-if="stale" class="mind">The rig has changed since: ping it again.</span>
      <el-button v-if="loop.ping && !loop.applied" size="small" type="primary" data-apply @click="apply"
        >Apply</el-button
      >
      <span v-else-if="loop.applied && !stale" class="signal">applied</span>
      <button v-if="!holder" class="plain act" @click="insert">insert on…</button>
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
    <template v-if="open && last?.measured">
      <el-radio-group v-model="chart" size="small"
        ><el-radio-button value="response">response</el-radio-button
        ><el-radio-button value="impulse">impulse</el-radio-button></el-radio-group
      >
      <LineChart
        v-if="chart === 'response'"
        :x="last.response.map(r => r.hz)"
        :y="last.response.map(r => r.db)"
        x-title="Hz"
        y-title="dB"
        log
        label="frequency response of the loop"
      />
      <LineChart
        v-else
        :x="last.impulse.samples.map((_, i) => last!.impulse.from + i)"
        :y="last.impulse.samples"
        x-title="samples after sending"
        y-title="amplitude"
        label="impulse response of the loop"
      />
      <p class="caption">distortion {{ dB(last.distortionDb) }} dB · measured with a sine sweep</p>
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
</style>

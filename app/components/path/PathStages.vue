<script setup lang="ts">
// The stages from a channel to the ears: each with its fader, its gain and the level that is there now; loops, ports
// and units on the way with theirs.
import { computed, ref, watch } from 'vue'
import { stagesToEars, type Step } from '@nullet/core/graph/path'
import { FADER } from '~/numbers/quantity'
import { dB } from '~/words/format'
import { useRides } from '~/stores/rides'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useStrips } from '~/stores/strips'
import { useTransport } from '~/stores/transport'

const props = defineProps<{ id: string }>()
const store = useSession(),
  selection = useSelection(),
  transport = useTransport(),
  strips = useStrips(),
  rides = useRides()
const steps = computed(() => stagesToEars(store.network!, props.id))
const level = (id: string) => store.session!.channel[id]!.levelDb
const meterOf = (s: Step) => (s.kind === 'loop' ? `port/${store.session!.loop[s.id]?.inPorts[0]}` : `${s.kind}/${s.id}`)
const nameOf = (s: Step) => store.session![s.kind][s.id]?.name ?? s.id
const now = ref<string[]>([])
watch(
  () => transport.beat,
  () => {
    if (transport.beat % 6 === 0)
      now.value = steps.value.map(s => {
        const v = transport.levels.get(meterOf(s))
        return v === undefined || v === -Infinity ? '' : dB(v)
      })
  }
)
function go(s: Step): void {
  if (s.kind === 'channel') selection.set([s.id], s.id)
}
let start: number | null = null,
  moving = false
function move(id: string, db: number | null): void {
  if (rides.holdLevels(id, strips.along([id], 'levels'), db)) return
  if (!moving) {
    start = level(id)
    moving = true
  }
  store.preview('channel', [id], () => ({ levelDb: db }))
}
function done(id: string, db: number | null): void {
  if (rides.finish()) return
  strips.setLevel(id, [id], moving ? start : level(id), db)
  moving = false
}
</script>

<template>
  <h3 class="cols"><span>to the ears</span><span>gain</span><span>level now</span></h3>
  <LevelGround class="stages">
    <div
      v-for="(s, i) in steps"
      :key="`${s.kind} ${s.id}`"
      class="stage"
      :class="[s.kind, { last: i === steps.length - 1 }]"
      :data-stage="s.id"
    >
      <button class="plain clip" :title="nameOf(s)" @click="go(s)">{{ nameOf(s) }}</button>
      <LevelBar
        v-if="s.kind === 'channel'"
        slim
        :level="level(s.id)"
        :ride="store.envelopes.get(`channel/${s.id}/levelDb`)?.points"
        :meter="meterOf(s)"
        :label="nameOf(s)"
        @move="db => move(s.id, db)"
        @done="db => done(s.id, db)"
      />
      <span v-else class="caption">{{ s.kind === 'loop' ? 'loop, its return' : s.kind }}</span>
      <NumberField
        v-if="s.kind === 'channel'"
        :quantity="{ ...FADER, label: `gain of ${nameOf(s)}` }"
        :value="level(s.id)"
        @move="db => move(s.id, db)"
        @done="db => done(s.id, db)"
      />
      <NumberField
        v-else-if="s.kind === 'loop'"
        :quantity="{ label: `return of ${nameOf(s)}`, unit: 'dB', min: -60, max: 24, silence: true, initial: 0 }"
        :value="store.session!.loop[s.id]!.returnDb"
        @move="returnDb => store.preview('loop', [s.id], () => ({ returnDb }))"
        @done="returnDb => store.apply('setLoop', { id: s.id, fields: { returnDb } })"
      /><span v-else /><span class="num live">{{ now[i] ?? '' }}</span>
    </div>
  </LevelGround>
</template>

<style scoped>
.cols {
  display: grid;
  grid-template-columns: 1fr 40px 52px;
  gap: 6px;
  text-align: right;
}
.cols span:first-child {
  text-align: left;
}
.stages {
  position: relative;
}
.stage {
  display: grid;
  grid-template-columns: 92px 1fr 40px 38px;
  gap: 6px;
  align-items: center;
  height: 26px;
  position: relative;
  padding-left: 14px;
}
.stage::before {
  content: '';
  position: absolute;
  left: 2px;
  top: 9px;
  width: 8px;
  height: 8px;
  border-radius: 50%;
  background: var(--signal);
}
.stage::after {
  content: '';
  position: absolute;
  left: 5.5px;
  top: 17px;
  height: 18px;
  width: 1px;
  background: var(--signal);
}
.stage.last::after {
  display: none;
}
.loop::before,
.port::before,
.unit::before {
  border-radius: 0;
  background: var(--surface);
  border: 1.5px solid var(--signal);
  width: 7px;
  height: 7px;
}
.num {
  font-size: 12px;
}
.number {
  text-align: right;
}
.live {
  color: var(--signal);
}
</style>

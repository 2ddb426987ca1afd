<script setup lang="ts">
// Channels over time with what moves on them: drawn, edited, ridden.
import { computed } from 'vue'
import { beatOfFrame, frameOfBeat } from '@nullet/core/notes/tempo'
import { byOrder, rows, settings } from '@nullet/core/session/session'
import { useShown } from '~/keyboard/shown'
import { shortTime } from '~/words/format'
import { useAnalyst } from '~/stores/analyst'
import { hintOf } from '~/session/whereTo'
import { useAsk } from '~/stores/ask'
import { useMovement } from '~/stores/movement'
import { useRides } from '~/stores/rides'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useTransport } from '~/stores/transport'

const store = useSession(),
  movement = useMovement(),
  transport = useTransport(),
  selection = useSelection(),
  ask = useAsk(),
  rides = useRides(),
  analyst = useAnalyst()
useShown(() => movement.shown)
const span = computed(() => movement.seen.to - movement.seen.from)
/** Marks at a round distance, some eighty pixels apart. */
const marks = computed(() => {
  const seconds = span.value / transport.rate
  const step = [0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 30, 60, 120, 300].find(s => seconds / s <= 12) ?? 600
  const first = Math.ceil(movement.seen.from / transport.rate / step)
  return Array.from(
    { length: Math.floor(movement.seen.to / transport.rate / step) - first + 1 },
    (_, i) => (first + i) * step * transport.rate
  )
})
const fresh = computed(() => selection.list.filter(id => !movement.shown.includes(id)))
/** Bars at a round distance. */
const bars = computed(() => {
  const { tempo, beatsPerBar } = settings(store.session!)
  const first = beatOfFrame(tempo, movement.seen.from, transport.rate),
    last = beatOfFrame(tempo, movement.seen.to, transport.rate)
  const step = [1, 2, 4, 8, 16, 32, 64, 128].find(s => (last - first) / beatsPerBar / s <= 12) ?? 256
  return Array.from({ length: 16 }, (_, i) => (Math.ceil(first / beatsPerBar / step) + i) * step * beatsPerBar)
    .filter(b => b <= last)
    .map(beat => ({ beat, text: `${beat / beatsPerBar + 1}`, frame: frameOfBeat(tempo, beat, transport.rate) }))
})
const at = (frame: number) => `${((frame - movement.seen.from) / span.value) * 100}%`
const inSight = computed(() => transport.position >= movement.seen.from && transport.position <= movement.seen.to)
async function add(): Promise<void> {
  const choices = rows(store.session!, 'channel')
    .filter(c => !movement.shown.includes(c.id))
    .sort(byOrder)
    .map(c => ({ value: c.id, label: c.name, hint: hintOf(store.network!, c.id) }))
  const id = await ask.ask({ title: 'Lay beside it…', kind: 'choice', choices })
  if (id) movement.add([id])
}
function seek(e: MouseEvent): void {
  const r = (e.currentTarget as HTMLElement).getBoundingClientRect()
  void transport.seek(movement.seen.from + ((e.clientX - r.left) / r.width) * span.value)
}
</script>

<template>
  <div class="movement">
    <div class="tools">
      <slot />
      <button class="plain act" @click="add">add a channel…</button>
      <button v-if="fresh.length" class="plain act" @click="movement.add(fresh)">
        add the selection ({{ fresh.length }})
      </button>
      <span v-if="analyst.busy === 'outline'" class="quiet"
        >rendering {{ Math.round(analyst.progress * 100) }} %
        <button class="plain act" @click="analyst.stop()">stop</button></span
      >
      <span class="space" />
      <button
        class="plain ride"
        :class="{ on: rides.armed }"
        :aria-pressed="rides.armed"
        title="r i"
        data-ride
        @click="rides.toggle"
      >
        {{ rides.count ? `writing ${rides.count}` : rides.armed ? 'riding' : 'ride' }}
      </button>
      <el-radio-group v-model="movement.tool" size="small" aria-label="what the pointer does"
        ><el-radio-button value="points">points</el-radio-button
        ><el-radio-button value="draw">draw</el-radio-button></el-radio-group
      >
      <el-select v-model="transport.snap" size="small" style="width: 92px" aria-label="snap to"
        ><el-option :value="0" label="no snap" /><el-option value="bar" label="bars" /><el-option
          :value="1"
          label="beats" /><el-option :value="0.25" label="¼ beats"
      /></el-select>
      <span class="zoom"
        ><button class="plain" aria-label="see more time" @click="movement.zoom(2)">−</button
        ><span class="num">{{ shortTime(span, transport.rate) }}</span
        ><button class="plain" aria-label="look closer" @click="movement.zoom(0.5)">+</button
        ><button class="plain act" @click="movement.zoom(Infinity)">all</button></span
      >
    </div>
    <div v-if="!movement.shown.length" class="empty">
      <h2>Nothing moves yet</h2>
      Lay a channel here and draw over its waveform, or turn <b>ride</b> on, play, and move a fader, a send or a
      setting.<br /><button class="plain act" @click="selection.list.length ? movement.add(selection.list) : add()">
        {{ selection.list.length ? `lay the selection here (${selection.list.length})` : 'add a channel…' }}
      </button>
    </div>
    <template v-else>
      <div class="ruler">
        <div class="ticks" @click="seek">
          <span v-for="b in bars" :key="`b${b.beat}`" class="barline num" :style="{ left: at(b.frame) }">{{
            b.text
          }}</span><span v-for="m in marks" :key="m" class="mark num" :style="{ left: at(m) }">{{
            span / transport.rate < 1
              ? (m / transport.rate).toFixed(2)
              : shortTime(m, transport.rate).replace(/\.0$/, '')
          }}</span>
        </div>
      </div>
      <div class="scroll list">
        <div class="rows">
          <MovementRow v-for="id in movement.shown" :id="id" :key="id" />
          <div class="over"><i v-if="inSight" class="now" :style="{ left: at(transport.position) }" /></div>
        </div>
      </div>
    </template>
  </div>
</template>

<style scoped>
.movement {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
}
.space {
  flex: 1;
}
.act {
  color: var(--acting);
}
.ride {
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  padding: 2px 12px;
}
.ride.on {
  border-color: var(--wrong);
  color: var(--wrong);
}
.zoom {
  display: flex;
  gap: 8px;
  align-items: center;
}
.zoom .num {
  width: 48px;
  text-align: center;
  font-size: 12px;
}
.ruler {
  height: 36px;
  margin-left: 216px;
  border-bottom: 1px solid var(--rule);
  flex: none;
}
.ticks {
  position: relative;
  height: 100%;
  overflow: hidden;
  cursor: pointer;
}
.barline {
  position: absolute;
  top: 18px;
  height: 18px;
  font-size: 11px;
  color: var(--acting);
  padding-left: 4px;
  border-left: 1px solid var(--acting);
}
.mark {
  position: absolute;
  top: 3px;
  font-size: 11px;
  color: var(--ink-2);
  padding-left: 4px;
  border-left: 1px solid var(--rule);
  height: 19px;
}
.list {
  flex: 1;
  min-height: 0;
  scrollbar-gutter: auto;
}
.rows {
  position: relative;
}
.over {
  position: absolute;
  top: 0;
  bottom: 0;
  left: 216px;
  right: 0;
  pointer-events: none;
  overflow: hidden;
}
.now {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 1.5px;
  background: var(--signal);
}
</style>

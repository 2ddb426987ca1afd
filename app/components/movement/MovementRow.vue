<script setup lang="ts">
// A channel over time: its waveform, and over it the envelope of what is looked at.
import { computed } from 'vue'
import { phrasesOf } from '@nullet/core/notes/phrases'
import { valueAt } from '@nullet/core/movement/envelope'
import { envelopeOn, movingOf, targetLabel, targetName, targetOf, type Target } from '@nullet/core/movement/targets'
import type { EnvelopePoint } from '@nullet/core/session/rows'
import { clipLength, heardClips } from '@nullet/core/session/session'
import { quantityOf } from '~/numbers/quantity'
import { askNumber } from '~/stores/askNumber'
import { useAnalyst } from '~/stores/analyst'
import { newId } from '~/stores/ids'
import { useMovement } from '~/stores/movement'
import { useRides } from '~/stores/rides'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useTransport } from '~/stores/transport'

const props = defineProps<{ id: string }>()
const store = useSession(),
  movement = useMovement(),
  transport = useTransport(),
  selection = useSelection(),
  rides = useRides(),
  analyst = useAnalyst()
const channel = computed(() => store.session!.channel[props.id]!)
const target = computed(() => movement.target(props.id))
const moving = computed(() => movingOf(store.session!, target.value)!)
const quantity = computed(() =>
  quantityOf(moving.value, target.value.field, `${targetLabel(store.session!, target.value)} of ${channel.value.name}`)
)
const envelope = computed(() => envelopeOn(store.session!, target.value))
const points = computed(() => envelope.value?.points ?? [])
const choices = computed(() => {
  const has = new Set(movement.envelopesOn(props.id).map(e => targetName(targetOf(e))))
  return movement
    .targets(props.id)
    .map(t => ({
      name: targetName(t),
      target: t,
      label: targetLabel(store.session!, t),
      moves: has.has(targetName(t))
    }))
    .sort((a, b) => Number(b.moves) - Number(a.moves))
})
const here = computed(() =>
  points.value.length ? valueAt(points.value, transport.position, moving.value.law) : moving.value.rest
)
const outline = computed(() => movement.outlines.get(props.id))
const clips = computed(() =>
  heardClips(store.session!)
    .filter(c => c.channel === props.id)
    .flatMap(c => {
      const medium = store.session!.medium[c.medium]!
      const frames = clipLength(store.session!, c)
      const from = Math.max(movement.seen.from, c.startFrame),
        to = Math.min(movement.seen.to, c.startFrame + frames)
      return to > from
        ? [
            {
              id: c.id,
              sha256: medium.sha256,
              left: span(from),
              width: span(to) - span(from),
              from: c.offsetFrames + from - c.startFrame,
              frames: to - from
            }
          ]
        : []
    })
)
const hasNotes = computed(() => phrasesOf(store.session!, props.id).length > 0)
const span = (frame: number) => ((frame - movement.seen.from) / (movement.seen.to - movement.seen.from)) * 100

const set = (list: readonly EnvelopePoint[], of: Target = target.value) =>
  store.apply('setEnvelope', { id: newId(), target: of, points: list, on: true })
const preview = (list: EnvelopePoint[]) => store.previewEnvelopes([{ target: target.value, points: list }])
function done(list: EnvelopePoint[]): void {
  if (list.length) set(list)
  else clear()
}
function clear(): void {
  if (envelope.value) store.apply('removeEnvelopes', { ids: [envelope.value.id] })
}

async function type(i: number): Promise<void> {
  const list = [...points.value],
    [frame, value] = list[i]!
  const typed = await askNumber({ ...quantity.value, value })
  if (typed !== undefined) set(list.with(i, [frame, typed]))
}

/** All of it up or down. */
async function shift(): Promise<void> {
  const m = moving.value
  const by = await askNumber({
    label: `Move all of ${targetLabel(store.session!, target.value)} by`,
    act: 'Move',
    ...(m.law === 'ratio'
      ? { min: 0.001, max: 1000, placeholder: 'factor, for example 1.5' }
      : { unit: m.law === 'db' ? 'dB' : m.unit || undefined })
  })
  if (typeof by !== 'number') return
  const scale = target.value.field === 'pan' ? 0.01 : 1
  set(
    points.value.map(([f, v]): EnvelopePoint => [
      f,
      v === null ? null : Math.max(m.min, Math.min(m.max, m.law === 'ratio' ? v * by : v + by * scale))
    ])
  )
}

function hand(value: number | null): void {
  if (rides.running()) rides.hold([{ target: target.value, value }])
}
</script>

<template>
  <article class="mrow" :data-movement="id">
    <div class="who">
      <span class="first"
        ><i class="hue" :style="{ background: `var(--hue-${channel.colour})` }" /><button
          class="plain clip name"
          :title="channel.name"
          @click="selection.set([id], id)"
        >
          {{ channel.name }}
        </button>
        <button
          v-if="!clips.length"
          class="plain act"
          data-outline
          :disabled="analyst.busy !== null"
          @click="movement.renderOutline(id)"
        >
          {{ !outline ? 'waveform' : outline.of === store.session ? '' : 'waveform anew' }}
        </button>
        <button
          v-if="movement.added.includes(id) && !envelope"
          class="plain quiet"
          :aria-label="`put ${channel.name} away`"
          @click="movement.drop(id)"
        >
          ×
        </button></span
      >
      <el-select
        :model-value="targetName(target)"
        size="small"
        filterable
        :aria-label="`what moves on ${channel.name}`"
        @change="(n: string) => movement.look(id, choices.find(c => c.name === n)!.target)"
      >
        <el-option v-for="c in choices" :key="c.name" :value="c.name" :label="c.label"
          ><span :class="{ moves: c.moves }">{{ c.moves ? '~ ' : '' }}{{ c.label }}</span></el-option
        >
      </el-select>
      <span
        class="hand"
        :title="rides.running() ? 'move it: it is written' : 'turn riding on and play to move it by hand'"
        ><NumberField
          bar
          :quantity="{ ...quantity, label: `hand on ${quantity.label}` }"
          :value="here"
          @move="hand"
          @done="
            v => {
              hand(v)
              rides.finish()
            }
          "
      /></span>
      <span class="do">
        <template v-if="envelope">
          <button
            class="plain"
            :class="{ on: envelope.on }"
            :aria-pressed="envelope.on"
            @click="store.apply('setEnvelope', { id: envelope.id, target, on: !envelope.on })"
          >
            {{ envelope.on ? 'on' : 'off' }}
          </button>
          <button class="plain act" @click="shift">by…</button
          ><button
            class="plain act"
            title="all movement of this channel onto the selected channels"
            @click="movement.copyOnto(id, selection.list)"
          >
            copy</button
          ><button class="plain act" @click="clear">remove</button>
        </template>
        <span v-else class="caption">{{ movement.tool === 'draw' ? 'draw over it' : 'press to add a point' }}</span>
      </span>
    </div>
    <div class="field">
      <div v-for="c in clips" :key="c.id" class="wave" :style="{ left: `${c.left}%`, width: `${c.width}%` }">
        <WaveImage :sha256="c.sha256" :hue="channel.colour" :from="c.from" :frames="c.frames" />
      </div>
      <div v-if="!clips.length && !outline && hasNotes" class="wave whole">
        <NotesImage :channel="id" :hue="channel.colour" :from="movement.seen.from" :to="movement.seen.to" />
      </div>
      <div v-if="!clips.length && outline" class="wave whole">
        <WaveImage
          :peaks="outline.peaks"
          :hue="channel.colour"
          :from="movement.seen.from"
          :frames="movement.seen.to - movement.seen.from"
        />
      </div>
      <EnvelopeLane
        :key="targetName(target)"
        :points="points"
        :on="envelope?.on ?? true"
        :moving="moving"
        :quantity="quantity"
        :at="transport.position"
        :rate="transport.rate"
        :from="movement.seen.from"
        :to="movement.seen.to"
        :tool="movement.tool"
        :snap="transport.snapped"
        @move="preview"
        @done="done"
        @type="type"
        @zoom="movement.zoom"
        @scroll="movement.scroll"
      />
    </div>
  </article>
</template>

<style scoped>
.mrow {
  display: grid;
  grid-template-columns: 216px minmax(0, 1fr);
  border-bottom: 1px solid var(--rule);
}
.who {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 2px;
  padding: 6px 12px 6px 16px;
  align-content: start;
  border-right: 1px solid var(--rule);
}
.first {
  display: flex;
  gap: 6px;
  align-items: center;
}
.hue {
  width: 4px;
  height: 14px;
  border-radius: 1px;
  flex: none;
}
.name {
  font-weight: 600;
  flex: 1;
  min-width: 0;
}
.hand {
  display: grid;
  align-items: center;
  height: 22px;
}
.do {
  display: flex;
  gap: 12px;
  font-size: 12px;
  min-height: 18px;
}
.do .on {
  color: var(--acting);
  font-weight: 600;
}
.act {
  color: var(--acting);
}
.first .act {
  flex: none;
  font-size: 12px;
}
.moves {
  font-weight: 600;
}
.field {
  position: relative;
  height: 104px;
  overflow: hidden;
  background: var(--surface);
}
.wave {
  position: absolute;
  top: 6px;
  bottom: 6px;
  opacity: 0.4;
}
.whole {
  left: 0;
  right: 0;
}
</style>

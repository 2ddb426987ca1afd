<script setup lang="ts">
// A channel's inside as one line: input section, taps, slots, fader; feeds leave where they are tapped.
import { computed, nextTick, ref } from 'vue'
import { LOOP, PROCESSORS, slotLabel } from '@nullet/core/processors/table'
import { phrasesOf } from '@nullet/core/notes/phrases'
import { rows, slotsOf } from '@nullet/core/session/session'
import type { Feed, Slot, Tap } from '@nullet/core/session/rows'
import { GAIN } from '~/numbers/quantity'
import { dB } from '~/words/format'
import { useCompare } from '~/stores/compare'
import { useGestures } from '~/stores/gestures'
import { orderAt } from '~/stores/ids'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'

const props = defineProps<{ id: string }>()
const store = useSession(),
  shell = useShell(),
  gestures = useGestures(),
  compare = useCompare()
const channel = computed(() => store.session!.channel[props.id]!)
const slots = computed(() => slotsOf(store.session!, props.id))
const isNotes = computed(() => phrasesOf(store.session!, props.id).length > 0)
const before = computed(() => slots.value.filter(s => !s.afterFader))
const after = computed(() => slots.value.filter(s => s.afterFader))
const chain = computed(() =>
  compare.now &&
  compare.now.rows.length > 1 &&
  compare.now.rows.every(s => store.session!.slot[s]?.channel === props.id)
    ? compare.now.rows
    : slots.value.filter(s => s.state === 'on').map(s => s.id)
)
const open = computed(() => slots.value.find(s => s.id === shell.openSlot))
const leaving = (tap: Tap) => rows(store.session!, 'feed').filter(f => f.from === props.id && f.tap === tap)
function goal(f: Feed): string {
  const s = store.session!
  if (f.kind === 'key') return `key of ${s.channel[s.slot[f.slot]!.channel]?.name}`
  if (f.kind === 'port') return f.ports.map(p => s.port[p]?.name).join(', ')
  return s.channel[f.to]?.name ?? ''
}
const shownState = (s: Slot) => (compare.hides(s.id) ? 'compared' : s.state)
const label = (s: Slot) => (s.loop ? `Loop: ${store.session!.loop[s.loop]?.name}` : slotLabel(s.processor))
const dragged = computed({
  get: () => shell.draggedSlot,
  set: id => {
    shell.draggedSlot = id
  }
})

/** A place for a slot: before the `index`th of its side. */
interface Landing {
  afterFader: boolean
  index: number
}
const run = ref<HTMLElement>()
/** Where a dragged slot will land: the place that is nearest to the hand. */
const landing = ref<Landing | null>(null)
const isLanding = (afterFader: boolean, index: number) =>
  landing.value?.afterFader === afterFader && landing.value.index === index
function over(e: DragEvent): void {
  const gaps = [...run.value!.querySelectorAll<HTMLElement>('.gap')]
  const distance = (el: HTMLElement) => {
    const { left, width } = el.getBoundingClientRect()
    return Math.abs(left + width / 2 - e.clientX)
  }
  const nearest = gaps.sort((a, b) => distance(a) - distance(b))[0]!
  landing.value = { afterFader: nearest.dataset.side === '1', index: Number(nearest.dataset.index) }
}
function drop(): void {
  const id = dragged.value,
    place = landing.value
  dragged.value = landing.value = null
  if (!id || !place) return
  if (store.session!.slot[id]?.channel === props.id) put(id, place)
  else void gestures.dropSlot(id, props.id)
}
function put(id: string, { afterFader, index }: Landing): void {
  const all = (afterFader ? after : before).value
  const shift = all.slice(0, index).some(s => s.id === id) ? 1 : 0
  const order = orderAt(
    all.filter(s => s.id !== id),
    index - shift
  )
  store.apply('setSlot', { id, fields: { afterFader, order } })
}
/** One place on with an arrow; the fader is a place of its own to pass. */
async function step(slot: Slot, by: 1 | -1): Promise<void> {
  const side = slot.afterFader ? after.value : before.value,
    at = side.findIndex(s => s.id === slot.id),
    to = at + by
  if (to >= 0 && to < side.length) put(slot.id, { afterFader: slot.afterFader, index: by > 0 ? to + 1 : to })
  else if (slot.afterFader !== by > 0) put(slot.id, { afterFader: by > 0, index: by > 0 ? 0 : before.value.length })
  // Beyond the fader it is another element.
  await nextTick()
  run.value?.querySelector<HTMLElement>(`[data-slot="${CSS.escape(slot.id)}"]`)?.focus()
}

const set = (fields: object) => store.apply('setChannels', { ids: [props.id], fields })
function flip(leg: number): void {
  const now = channel.value.flippedLegs
  set({ flippedLegs: now.includes(leg) ? now.filter(l => l !== leg) : [...now, leg].sort((a, b) => a - b) })
}
const CUTS = [
  { field: 'lowCutHz', label: 'low cut', max: 2000 },
  { field: 'highCutHz', label: 'high cut', max: 40000 }
] as const
</script>

<template>
  <section class="rail" :aria-label="`inside of ${channel.name}`">
    <NotesPanel v-if="!open && shell.openNotes === id" :channel="id" />
    <SlotPanel v-if="open" :id="open.id" :key="open.id" />
    <div v-if="chain.length > 1" class="chain"><CompareSides :ids="chain" /></div>
    <div ref="run" class="scroll run" @dragover.prevent="over" @dragleave.self="landing = null" @drop="drop">
      <div class="stage name">
        <strong class="clip" :title="channel.name">{{ channel.name }}</strong><span v-if="!isNotes" class="caption">{{
          channel.kind
        }}</span
        ><button
          v-else
          class="plain notes"
          data-open-notes
          @click="
            () => {
              shell.openSlot = null
              shell.openNotes = shell.openNotes === id ? null : id
            }
          "
        >
          notes…
        </button>
      </div>
      <div class="stage input">
        <span class="caption">input section</span>
        <span class="row"
          ><span class="caption">trim</span
          ><NumberField
            :quantity="{ ...GAIN, label: `trim of ${channel.name}` }"
            :value="channel.trimDb"
            @move="trimDb => store.preview('channel', [id], () => ({ trimDb }))"
            @done="trimDb => set({ trimDb })"
          /><span class="caption">polarity</span
          ><button
            v-for="(l, i) in channel.layout"
            :key="l"
            class="plain leg"
            :class="{ on: channel.flippedLegs.includes(i) }"
            :aria-pressed="channel.flippedLegs.includes(i)"
            :title="`turn the polarity of ${l}`"
            @click="flip(i)"
          >
            {{ channel.layout.length === 1 ? 'turned' : l }}
          </button></span
        >
        <span class="row"
          ><NumberField
            v-for="c in CUTS"
            :key="c.field"
            :quantity="{ ...c, unit: 'Hz', min: 10, law: 'ratio', off: true }"
            :value="channel[c.field]"
            :shown="channel[c.field] === null ? `${c.label} off` : undefined"
            @move="v => store.preview('channel', [id], () => ({ [c.field]: v }))"
            @done="v => set({ [c.field]: v })"
        /></span>
      </div>
      <TapPoint label="input" :feeds="leaving('input')" :goal="goal" :own-pan="channel.pan" />
      <template v-for="(side, s) in [before, after]" :key="s">
        <template v-for="(slot, i) in side" :key="slot.id">
          <i class="gap" :class="{ land: isLanding(s === 1, i) }" :data-side="s" :data-index="i" />
          <button
            class="slot"
            :class="[
              shownState(slot),
              {
                open: slot.id === shell.openSlot,
                missing: !PROCESSORS[slot.processor] && slot.processor !== LOOP,
                loop: !!slot.loop
              }
            ]"
            draggable="true"
            :data-slot="slot.id"
            @dragstart="dragged = slot.id"
            @dragend="dragged = landing = null"
            @keydown.alt.left.prevent.stop="step(slot, -1)"
            @keydown.alt.right.prevent.stop="step(slot, 1)"
            @click="shell.openSlot = shell.openSlot === slot.id ? null : slot.id"
          >
            <span class="clip">{{ label(slot) }}</span>
            <span class="caption">{{
              !PROCESSORS[slot.processor] && slot.processor !== LOOP
                ? 'not here'
                : shownState(slot) === 'on'
                  ? slot.mix < 1
                    ? `mix ${Math.round(slot.mix * 100)} %`
                    : 'on'
                  : shownState(slot)
            }}</span>
          </button>
        </template>
        <i class="gap" :class="{ land: isLanding(s === 1, side.length) }" :data-side="s" :data-index="side.length" />
        <button v-if="s === 0" class="plain add" title="insert (i n)" data-insert @click="gestures.addSlot(id)">
          insert…
        </button>
        <TapPoint v-if="s === 0" label="pre-fader" :feeds="leaving('pre')" :goal="goal" :own-pan="channel.pan" />
        <div v-if="s === 0" class="stage fader">
          <span class="caption">fader</span><span class="num">{{ dB(channel.levelDb) }}</span
          ><span class="caption">{{ channel.muted ? 'muted' : '' }}</span>
        </div>
      </template>
      <TapPoint label="post-fader" :feeds="leaving('post')" :goal="goal" :own-pan="channel.pan" last />
      <button
        v-if="slots.length > 1"
        class="plain whole"
        title="all slots that are on, with and without, at equal loudness"
        data-compare-chain
        @click="compare.beginChain(id)"
      >
        compare all
      </button>
      <button
        class="plain close"
        aria-label="close the rail"
        title="Esc"
        @click="
          () => {
            shell.railOf = null
            shell.openSlot = null
          }
        "
      >
        ×
      </button>
    </div>
  </section>
</template>

<style scoped>
.rail {
  border-bottom: 1px solid var(--rule);
  flex: none;
}
.run {
  display: flex;
  align-items: flex-start;
  gap: 0;
  padding: 10px 40px 10px 16px;
  position: relative;
  overflow-x: auto;
  min-height: 88px;
  background:
    linear-gradient(var(--signal), var(--signal)) 0 31px / 100% 1.5px no-repeat,
    var(--surface);
}
.stage {
  display: grid;
  gap: 2px;
  padding: 4px 10px;
  background: var(--surface);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  flex: none;
  margin-right: 14px;
}
.name {
  width: 120px;
  border-left: 4px solid var(--signal);
}
.row {
  display: flex;
  gap: 10px;
  align-items: baseline;
  font-size: 12px;
}
.whole {
  color: var(--acting);
  background: var(--surface);
  padding: 12px 6px;
  margin: 0 14px 0 8px;
  flex: none;
}
.chain {
  padding: 4px 16px 0;
  background: var(--ground);
}
.chain:empty {
  display: none;
}
.notes {
  color: var(--acting);
  font-size: 12px;
}
.leg {
  font-size: 11px;
}
.leg.on {
  color: var(--acting);
  font-weight: 600;
  text-decoration: line-through;
}
.slot {
  display: grid;
  gap: 1px;
  width: 128px;
  padding: 4px 10px;
  text-align: left;
  background: var(--raised);
  border: 1px solid var(--ink-3);
  border-radius: var(--radius);
  cursor: grab;
  flex: none;
}
.slot.open {
  border-color: var(--acting);
  box-shadow: 0 0 0 1px var(--acting);
}
.slot.bypassed {
  border-style: dashed;
  color: var(--ink-2);
}
.slot.off {
  opacity: 0.5;
}
.slot.missing {
  border: 1.5px dashed var(--mind);
}
.slot.loop {
  border-left: 4px double var(--ink);
}
.gap {
  width: 14px;
  height: 44px;
  flex: none;
}
.gap.land {
  position: relative;
}
.gap.land::after {
  content: '';
  position: absolute;
  inset: -4px 4px;
  background: var(--acting);
  border-radius: 2px;
}
.add {
  color: var(--acting);
  background: var(--surface);
  padding: 12px 6px;
  flex: none;
  margin-right: 10px;
}
.close {
  position: sticky;
  right: -28px;
  margin-left: auto;
  font-size: 18px;
  padding: 0 6px;
  background: var(--surface);
}
</style>

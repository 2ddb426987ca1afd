<script setup lang="ts">
// A channel as it is drawn everywhere: low and wide, level and setting on one bar.
import { computed } from 'vue'
import { layoutName } from '@nullet/core/session/layouts'
import { printOn } from '@nullet/core/session/session'
import { dB, plural } from '~/words/format'
import { useFolding } from '~/stores/folding'
import { commonName } from '~/stores/names'
import { useRides } from '~/stores/rides'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useStrips } from '~/stores/strips'
import { NARROW, SCANT } from './mapColumns'
import { restsWithStrip } from './resting'

const props = defineProps<{
  id: string
  count?: number
  members?: string[]
  dimmed?: boolean
  checked?: boolean
  /** Pixels. */ width: number
}>()
const emit = defineEmits<{ pick: [event: MouseEvent]; unfold: []; open: []; draw: [event: PointerEvent] }>()
const store = useSession(),
  selection = useSelection(),
  strips = useStrips(),
  shell = useShell(),
  rides = useRides(),
  folding = useFolding()
restsWithStrip()
const channel = computed(() => store.session!.channel[props.id]!)
const acting = computed(() => props.members ?? [props.id])
const selected = computed(() => acting.value.some(id => selection.ids.has(id)))
const print = computed(() => printOn(store.session!, props.id))
const hiddenPrints = computed(() => {
  const count = folding.printsHidden ? (folding.printsOf.get(props.id)?.length ?? 0) : 0
  return count ? plural(count, 'print', 'prints') : ''
})
const linked = computed(() => strips.shownLink(props.id))
const folded = computed(() => !!props.count && props.count > 1)
const shownName = computed(() => (folded.value ? commonName(store.session!, props.members!) : channel.value.name))
const bundleName = computed(() =>
  folded.value
    ? `${shownName.value}: ${props.members!.map(id => store.session!.channel[id]!.name).join(', ')}`
    : channel.value.name
)

const levelRide = computed(() => store.envelopes.get(`channel/${props.id}/levelDb`)?.points)

const narrow = computed(() => props.width < NARROW),
  scant = computed(() => props.width < SCANT)
/** As much of it shows: what is dimmed can still be read, at 4.5 : 1 in both themes. */
const shown = computed(() => (channel.value.parked ? 0.5 : props.dimmed ? 0.66 : 1))

const TOOLS = [
  { field: 'muted', word: 'mute', title: 'mute (m u)' },
  { field: 'soloed', word: 'solo', title: 'solo (s o)' }
] as const

/** What a gesture here acts on. */
const moved = () => (folded.value ? acting.value : selection.actOn(props.id))
let from: number | null | undefined

/** Several strips move by the same number of dB; one goes where the hand put it. */
function onMove(db: number | null): void {
  if (rides.holdLevels(props.id, strips.along(moved(), 'levels'), db)) return
  if (from === undefined) from = channel.value.levelDb
  const ids = strips.along(moved(), 'levels'),
    by = db === null || from === null ? 0 : db - from
  const starts = new Map(
    ids.map(id => [id, begins.get(id) ?? begins.set(id, store.session!.channel[id]!.levelDb).get(id)!])
  )
  const most = 12 - Math.max(...[...starts.values()].filter(l => l !== null))
  store.preview('channel', ids, row => {
    const level = starts.get(row.id as string)!
    return {
      levelDb: ids.length === 1 ? db : level === null ? null : Math.round((level + Math.min(by, most)) * 10) / 10
    }
  })
}
const begins = new Map<string, number | null>()

function onDone(db: number | null): void {
  if (rides.finish()) return
  const start = from === undefined ? channel.value.levelDb : from
  from = undefined
  begins.clear()
  strips.setLevel(props.id, moved(), start, db)
}
</script>

<template>
  <div
    class="strip"
    :class="{
      selected,
      cursor: acting.includes(selection.focused ?? ''),
      muted: channel.muted,
      parked: channel.parked,
      soloed: channel.soloed,
      bus: channel.kind === 'bus',
      folded,
      compact: shell.compact,
      narrow,
      scant
    }"
    :style="{ '--hue': `var(--hue-${channel.colour})`, opacity: shown, width: `${width}px` }"
    :id="`strip ${id}`"
    :data-channel="id"
    role="group"
    :aria-current="selected"
    :aria-label="bundleName"
    :title="narrow ? `${bundleName} · ${dB(channel.levelDb)} dB` : undefined"
    @click="emit('pick', $event)"
    @dblclick="folded ? emit('unfold') : emit('open')"
  >
    <div class="head">
      <span class="clip name" :title="`${bundleName} · ${layoutName(channel.layout)}`">{{ shownName }}</span>
      <button v-if="folded" class="plain more" tabindex="-1" title="unfold" @click.stop="emit('unfold')">
        ×{{ count }}
      </button>
      <span
        v-if="linked"
        class="sign"
        :class="{ lifted: shell.linksLifted }"
        :title="shell.linksLifted ? `${linked}, lifted` : linked"
        ><svg viewBox="0 0 14 8" width="14" height="8">
          <path
            d="M4 1h2M4 7h2M4 1a3 3 0 000 6M8 1h2a3 3 0 010 6H8M4.5 4h5"
            fill="none"
            stroke="currentColor"
            stroke-width="1.3"
          /></svg
      ></span>
      <span v-if="print" class="sign" :title="`printed; listening to ${channel.listen}`">{{
        channel.listen === 'feed' ? 'feed' : 'print'
      }}</span>
      <span v-if="hiddenPrints" class="sign" :title="`${hiddenPrints} of this, hidden (v i shows them)`">{{
        hiddenPrints
      }}</span>
      <span v-if="channel.ready" class="sign ready" title="ready: its feed comes through">○</span>
      <span v-if="channel.safe" class="sign" title="solo safe"
        ><svg viewBox="0 0 10 12" width="8" height="10">
          <path d="M5 0l5 2v4c0 3-2 5-5 6-3-1-5-3-5-6V2z" fill="currentColor" /></svg
      ></span>
      <span v-if="checked" class="sign mind" title="a check is about this channel" aria-label="has a check">◇</span>
      <span class="num level" data-level>{{ dB(channel.levelDb) }}</span>
    </div>
    <div class="foot">
      <LevelBar
        inner
        :bare="narrow"
        :level="channel.levelDb"
        :ride="levelRide"
        :meter="`channel/${id}`"
        :label="channel.name"
        :shown="shown"
        @move="onMove"
        @done="onDone"
      />
      <button
        v-for="t in TOOLS"
        :key="t.field"
        class="plain tool"
        :class="{ on: channel[t.field] }"
        tabindex="-1"
        :title="t.title"
        :aria-label="t.word"
        :aria-pressed="channel[t.field]"
        @click.stop="strips.toggle(moved(), t.field)"
      >
        {{ t.word[0] }}
      </button>
    </div>
    <button
      class="end"
      tabindex="-1"
      title="drag from here to feed, send or key"
      aria-label="draw a feed from here"
      @pointerdown.left.stop.prevent="emit('draw', $event)"
      @click.stop
    />
  </div>
</template>

<style scoped>
/* In a positioned box of its size. Each thing with a layer of its own is gone through at every row that one scrolls. */
.strip {
  height: 32px;
  padding: 1px 8px 0 10px;
  background: var(--surface);
  border: 1px solid var(--rule);
  border-left: 4px solid var(--hue);
  border-radius: var(--radius);
  font-size: 12px;
  user-select: none;
  cursor: default;
}
.strip.selected {
  border-color: var(--acting);
  border-left-color: var(--hue);
  box-shadow: 0 0 0 1px var(--acting);
}
/* Where arrows go from: shown while a hand on the keyboard is on the Map. */
:focus-visible .strip.cursor {
  outline: 1px dashed var(--ink);
  outline-offset: 2px;
}
.strip.soloed {
  outline: 2px solid var(--acting);
  outline-offset: 1px;
}
.strip.muted {
  background: repeating-linear-gradient(135deg, var(--surface) 0 5px, var(--hatch) 5px 7px);
}
.strip.parked {
  border-style: dashed;
}
.strip.folded {
  box-shadow:
    2px 2px 0 -1px var(--surface),
    2px 2px 0 0 var(--rule);
}
.strip.folded.selected {
  box-shadow:
    0 0 0 1px var(--acting),
    3px 3px 0 0 var(--rule);
}
.head {
  display: flex;
  align-items: baseline;
  gap: 6px;
  height: 16px;
}
.name {
  overflow: clip;
  flex: 1;
  min-width: 0;
  line-height: 16px;
}
.bus .name {
  font-weight: 500;
}
.level {
  font-size: 11px;
  width: 38px;
}
.sign {
  font-size: 10px;
  color: var(--ink-2);
  flex: none;
}
.sign.ready {
  color: var(--acting);
}
.sign.mind {
  color: var(--mind);
}
.more {
  color: var(--ink-2);
  font-family: var(--mono);
  font-size: 11px;
}
.foot {
  display: grid;
  grid-template-columns: 1fr 16px 16px;
  column-gap: 1px;
  align-items: center;
}
.tool {
  height: 13px;
  text-align: center;
  border-radius: 2px;
  font: 11px/12px var(--mono);
  color: var(--ink-2);
}
.tool:hover {
  background: var(--acting-soft);
  color: var(--ink);
}
.tool.on {
  color: var(--acting);
  font-weight: 600;
}
.end {
  position: absolute;
  right: -6px;
  top: 9px;
  width: 12px;
  height: 12px;
  border-radius: 50%;
  border: 1.5px solid var(--ink-2);
  background: var(--surface);
  padding: 0;
  display: none;
  cursor: crosshair;
  z-index: 2;
}
.strip:hover .end {
  display: block;
}
.end:hover {
  border-color: var(--acting);
  background: var(--acting);
}
.sign.lifted {
  opacity: 0.35;
}
.strip.compact {
  height: 20px;
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 0 6px 0 7px;
}
.strip.compact .head {
  flex: 1;
  min-width: 0;
}
.strip.compact .foot {
  flex: 0 0 40%;
}
.strip.compact .end {
  top: 3px;
}
.strip.compact .level {
  width: 34px;
}
.strip.narrow {
  padding: 0 0 0 1px;
  border-left-width: 3px;
}
.strip.narrow .head,
.strip.narrow .tool {
  display: none;
}
.strip.narrow .foot {
  display: block;
}
.strip.narrow:not(.compact) .foot {
  margin-top: 8px;
}
/* A name needs the room more than numbers do; they stand in Path too. */
.scant .level,
.scant.compact .tool {
  display: none;
}
.scant.compact .foot {
  position: absolute;
  left: 8px;
  right: 8px;
  bottom: -3px;
  display: block;
}
</style>

<script setup lang="ts">
// Notes on a grid of steps and keys: press to put a note, press it to remove it, drag it up or down for its velocity.
import { computed, ref, shallowRef } from 'vue'
import { keyName } from '@nullet/core/notes/phrases'
import type { Note, Phrase } from '@nullet/core/session/rows'

const props = defineProps<{
  phrase: Phrase
  /** Beat of the phrase that is heard now; null when it is not. */ beat: number | null
  beatsPerBar: number
}>()
const emit = defineEmits<{ notes: [notes: Note[]] }>()

const ROW = 15,
  STEP = 26
/** Rows of a drum pattern that has few keys. */
const DRUMS = [36, 38, 41, 43, 45, 48, 50]
const draft = shallowRef<Note[] | null>(null)
const notes = computed(() => draft.value ?? props.phrase.notes)
const keys = computed(() => {
  const used = props.phrase.notes.map(n => n[2])
  if (props.phrase.voice === 'drum' && props.phrase.as === 'steps')
    return [...new Set([...DRUMS, ...used])].sort((a, b) => b - a)
  const low = Math.max(0, Math.min(48, ...used) - 1),
    high = Math.min(127, Math.max(72, ...used) + 1)
  return Array.from({ length: high - low + 1 }, (_, i) => high - i)
})
const steps = computed(() => Math.max(1, Math.round(props.phrase.lengthBeats / props.phrase.stepBeats)))
const width = computed(() => steps.value * STEP),
  height = computed(() => keys.value.length * ROW)
const xOf = (beat: number) => (beat / props.phrase.stepBeats) * STEP
const box = ref<SVGSVGElement>()
const held = ref(-1)

function down(e: PointerEvent): void {
  const r = box.value!.getBoundingClientRect()
  const step = Math.floor((e.clientX - r.left) / STEP),
    key = keys.value[Math.floor((e.clientY - r.top) / ROW)]
  if (key === undefined || step < 0 || step >= steps.value) return
  emit('notes', [...props.phrase.notes, [step * props.phrase.stepBeats, props.phrase.stepBeats, key, 100]])
}

function grab(e: PointerEvent, i: number): void {
  const el = e.currentTarget as SVGElement,
    y0 = e.clientY,
    [beat, length, key, velocity] = props.phrase.notes[i]!
  held.value = i
  el.setPointerCapture(e.pointerId)
  const move = (m: PointerEvent) => {
    if (!draft.value && Math.abs(m.clientY - y0) < 4) return
    draft.value = [...props.phrase.notes].with(i, [
      beat,
      length,
      key,
      Math.max(1, Math.min(127, Math.round(velocity + (y0 - m.clientY))))
    ])
  }
  el.addEventListener('pointermove', move)
  el.addEventListener(
    'pointerup',
    () => {
      el.removeEventListener('pointermove', move)
      emit('notes', draft.value ?? props.phrase.notes.toSpliced(i, 1))
      draft.value = null
    },
    { once: true }
  )
}

const MOVES: Record<string, (n: Note, step: number) => Note> = {
  ArrowLeft: ([b, l, k, v], s) => [Math.max(0, b - s), l, k, v],
  ArrowRight: ([b, l, k, v], s) => [b + s, l, k, v],
  ArrowUp: ([b, l, k, v]) => [b, l, Math.min(127, k + 1), v],
  ArrowDown: ([b, l, k, v]) => [b, l, Math.max(0, k - 1), v],
  '+': ([b, l, k, v]) => [b, l, k, Math.min(127, v + 8)],
  '-': ([b, l, k, v]) => [b, l, k, Math.max(1, v - 8)],
  '>': ([b, l, k, v], s) => [b, l + s, k, v],
  '<': ([b, l, k, v], s) => [b, Math.max(s, l - s), k, v]
}
function key(e: KeyboardEvent, i: number): void {
  const move = MOVES[e.key]
  if (move) emit('notes', [...props.phrase.notes].with(i, move(props.phrase.notes[i]!, props.phrase.stepBeats)))
  else if (e.key === 'Delete' || e.key === 'Backspace') emit('notes', props.phrase.notes.toSpliced(i, 1))
  else return
  e.preventDefault()
  e.stopPropagation()
}
const dark = (k: number) => [1, 3, 6, 8, 10].includes(k % 12)
</script>

<template>
  <div class="grid scroll" data-note-grid>
    <div class="keys" :style="{ height: `${height}px` }">
      <span v-for="k in keys" :key="k" :class="{ c: k % 12 === 0 }">{{
        keys.length < 14 || k % 12 === 0 ? keyName(k) : ''
      }}</span>
    </div>
    <svg
      ref="box"
      :width="width"
      :height="height"
      role="group"
      :aria-label="`notes of ${phrase.name}`"
      @pointerdown.left.prevent="down"
    >
      <rect
        v-for="(k, i) in keys"
        :key="k"
        x="0"
        :y="i * ROW"
        :width="width"
        :height="ROW"
        :class="dark(k) ? 'dark' : 'light'"
      />
      <path
        v-for="s in steps"
        :key="s"
        :d="`M${(s - 1) * STEP} 0V${height}`"
        :class="
          ((s - 1) * phrase.stepBeats) % beatsPerBar === 0
            ? 'bar'
            : ((s - 1) * phrase.stepBeats) % 1 === 0
              ? 'beat'
              : 'step'
        "
      />
      <rect
        v-if="beat !== null"
        class="now"
        :x="Math.floor(beat / phrase.stepBeats) * STEP"
        y="0"
        :width="STEP"
        :height="height"
      />
      <rect
        v-for="([b, l, k, v], i) in notes"
        :key="i"
        class="note"
        :class="{ held: i === held }"
        :x="xOf(b) + 1"
        :y="keys.indexOf(k) * ROW + 1"
        :width="Math.max(5, xOf(l) - 2)"
        :height="ROW - 2"
        :style="{ opacity: 0.35 + v / 200 }"
        tabindex="0"
        role="button"
        data-note
        :aria-label="`${keyName(k)} at beat ${b + 1}, velocity ${v}`"
        @pointerdown.left.stop.prevent="grab($event, i)"
        @keydown="key($event, i)"
      >
        <title>{{ keyName(k) }}, velocity {{ v }}: drag up or down to change it, press to remove it</title>
      </rect>
    </svg>
  </div>
</template>

<style scoped>
.grid {
  display: flex;
  max-height: 232px;
  border: 1px solid var(--rule);
  background: var(--surface);
}
.keys {
  position: sticky;
  left: 0;
  z-index: 1;
  display: grid;
  grid-auto-rows: 15px;
  width: 40px;
  flex: none;
  background: var(--surface);
  border-right: 1px solid var(--rule);
  font: 10px/15px var(--mono);
  color: var(--ink-2);
  text-align: right;
  padding-right: 5px;
}
.keys .c {
  color: var(--ink);
}
svg {
  flex: none;
  cursor: cell;
  user-select: none;
}
.light {
  fill: var(--surface);
}
.dark {
  fill: var(--ground);
}
.step {
  stroke: var(--rule);
  stroke-width: 0.5;
}
.beat {
  stroke: var(--rule);
  stroke-width: 1.2;
}
.bar {
  stroke: var(--ink-3);
  stroke-width: 1.2;
}
.note {
  fill: var(--acting);
  rx: 2;
  cursor: ns-resize;
}
.note:focus-visible {
  outline: none;
  stroke: var(--ink);
  stroke-width: 2;
}
.now {
  fill: var(--signal-soft);
  pointer-events: none;
}
</style>

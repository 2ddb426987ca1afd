<script setup lang="ts">
// The number field of the product: drag it (further away is finer), arrows, the wheel while it has the focus, double
// click for its initial value, or click and type it with its unit, or as a sum. With `bar` its way is drawn beside it.
import { computed, nextTick, onBeforeUnmount, ref, useId } from 'vue'
import { drag } from '~/numbers/drag'
import { useNotices } from '~/stores/notices'
import {
  byKey,
  placeOf,
  rangeText,
  read,
  spoken,
  stepped,
  typed,
  valueAt,
  write,
  type Quantity
} from '~/numbers/quantity'

const props = defineProps<{ quantity: Quantity; value: number | null; bar?: boolean; shown?: string }>()
const emit = defineEmits<{
  move: [value: number | null]
  /** @param typed it was written, not moved from where it was */
  done: [value: number | null, typed: boolean]
}>()
const field = ref<HTMLElement>(),
  input = ref<HTMLInputElement>()
const text = ref<string | null>(null)
const faultId = useId()
const fault = computed(() => {
  if (text.value === null) return null
  const got = read(props.quantity, text.value)
  return 'fault' in got ? got.fault : null
})
/** What a hand holds, until the row has it. */
const held = ref<number | null>()
const now = computed(() => (held.value === undefined ? props.value : held.value))
const label = computed(() => write(props.quantity, now.value))

/** A number without its way drawn: one of its steps every 3 px. */
const NUMBER_STEPS = 80,
  NUMBER_WIDTH_PX = 240
let leave: (() => void) | null = null
onBeforeUnmount(() => leave?.())

function down(e: PointerEvent, bar: HTMLElement | null): void {
  if (text.value !== null) return
  e.preventDefault()
  field.value!.focus()
  const start = placeOf(props.quantity, props.value)
  const from = props.value
  let last = from
  // A press on the way takes the number there at once.
  const ahead = bar ? (e.clientX - bar.getBoundingClientRect().left) / bar.clientWidth - start : 0
  leave?.()
  leave = drag(field.value!, e, bar?.clientWidth ?? NUMBER_WIDTH_PX, {
    move(by) {
      last = bar
        ? valueAt(props.quantity, Math.min(1, Math.max(0, start + by)))
        : stepped(props.quantity, from, by * NUMBER_STEPS)
      held.value = last
      emit('move', last)
    },
    end(moved) {
      held.value = undefined
      if (moved) emit('done', last, false)
      else if (!bar) begin()
      else if (Math.abs(ahead) * bar.clientWidth > 6) emit('done', valueAt(props.quantity, start + ahead), false)
    }
  })
}
function begin(first?: string): void {
  text.value = first ?? typed(props.quantity, props.value)
  void nextTick(() => {
    input.value?.focus()
    if (first === undefined) input.value?.select()
  })
}
function end(take: boolean, keepFocus: boolean): void {
  if (text.value === null) return
  const got = read(props.quantity, text.value)
  if (take && 'fault' in got) return
  text.value = null
  if (take && 'value' in got) emit('done', got.value, true)
  if (keepFocus) void nextTick(() => field.value?.focus())
}
/** Enter keeps what cannot be read in the field; going elsewhere drops it, and says so. */
function left(): void {
  if (text.value === null) return
  if (fault.value !== null)
    useNotices().tell(`${props.quantity.label}: ${fault.value}. It stays at ${spoken(props.quantity, props.value)}.`)
  end(fault.value === null, false)
}
function reset(): void {
  const { initial, off } = props.quantity
  if (initial === undefined && !off) return
  text.value = null
  emit('done', typeof initial === 'number' ? initial : null, true)
}
function key(e: KeyboardEvent): void {
  if (text.value !== null || e.ctrlKey || e.metaKey || e.altKey) return
  const value = byKey(props.quantity, props.value, e.key)
  if (value !== undefined) emit('done', value, false)
  else if (e.key === 'Enter' || e.key === ' ') begin()
  else if (/^[\d.+\-−]$/.test(e.key)) begin(e.key)
  else return
  e.preventDefault()
  e.stopPropagation()
}
function typing(e: KeyboardEvent): void {
  e.stopPropagation()
  if (e.key === 'Enter') end(true, true)
  else if (e.key === 'Escape') end(false, true)
  else return
  e.preventDefault()
}
function wheel(e: WheelEvent): void {
  if (document.activeElement !== field.value || text.value !== null) return
  e.preventDefault()
  emit('done', stepped(props.quantity, props.value, e.deltaY < 0 ? 1 : -1), false)
}
</script>

<template>
  <span
    ref="field"
    class="number"
    :class="{ bar }"
    role="spinbutton"
    tabindex="0"
    :aria-label="quantity.label"
    :aria-valuemin="quantity.min"
    :aria-valuemax="quantity.max"
    :aria-valuenow="value ?? undefined"
    :aria-valuetext="shown ?? spoken(quantity, now)"
    :title="`${quantity.label}: ${rangeText(quantity)}. Drag, type, or double click for where it begins`"
    @keydown="key"
    @wheel="wheel"
    @dblclick.stop="reset"
    @click.stop
  >
    <span
      v-if="bar"
      class="way"
      aria-hidden="true"
      @pointerdown.left.stop="down($event, $event.currentTarget as HTMLElement)"
      ><i class="runway" /><i class="gone" :style="{ transform: `scaleX(${placeOf(quantity, now)})` }" /><i
        class="notch"
        :style="{ left: `${placeOf(quantity, now) * 100}%` }"
    /></span>
    <span v-if="text === null" class="num shown" @pointerdown.left.stop="down($event, null)">{{ shown ?? label }}</span>
    <span v-else class="typing">
      <input
        ref="input"
        v-model="text"
        :aria-label="quantity.label"
        :aria-invalid="fault !== null"
        :aria-describedby="faultId"
        spellcheck="false"
        autocomplete="off"
        @keydown="typing"
        @blur="left"
        @pointerdown.stop
      /><span :id="faultId" class="beside" :class="{ wrong: fault }" role="status">{{
        fault ?? rangeText(quantity)
      }}</span></span
    >
  </span>
</template>

<style scoped>
.number {
  display: inline-block;
  border-radius: 2px;
  touch-action: none;
  font-size: 12px;
}
.number.bar {
  display: grid;
  grid-template-columns: 1fr 78px;
  gap: 10px;
  align-items: center;
}
.shown {
  display: inline-block;
  min-width: 34px;
  border-bottom: 1px dotted var(--ink-3);
  cursor: ew-resize;
}
.bar .shown {
  justify-self: end;
}
.number:hover .shown {
  border-bottom-color: var(--acting);
}
.way {
  position: relative;
  height: 16px;
  cursor: ew-resize;
}
.runway,
.gone {
  position: absolute;
  inset: 7px 0 auto;
  height: 2px;
  background: var(--track);
}
.gone {
  background: var(--ink-3);
  transform-origin: 0 0;
}
.notch {
  position: absolute;
  top: 1px;
  width: 9px;
  height: 13px;
  margin-left: -4.5px;
  background: var(--ink);
  clip-path: polygon(0 0, 100% 0, 50% 100%);
}
.number:hover .notch,
.number:focus-visible .notch {
  background: var(--acting);
}
.typing {
  position: relative;
  display: inline-block;
}
input {
  width: 74px;
  font: 12px var(--mono);
  text-align: right;
  color: var(--ink);
  background: var(--raised);
  border: 1px solid var(--acting);
  border-radius: 2px;
  padding: 0 3px;
  height: 20px;
}
.beside {
  position: absolute;
  top: 22px;
  right: 0;
  z-index: 20;
  white-space: nowrap;
  padding: 2px 8px;
  background: var(--raised);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  box-shadow: var(--shadow);
  color: var(--ink-2);
  font-size: 11px;
}
.beside.wrong {
  color: var(--wrong);
}
</style>

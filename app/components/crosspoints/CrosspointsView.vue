<script setup lang="ts">
// The same network as a grid. Choose what to write with, then click, drag across, or move with arrows and type a level.
import { computed, nextTick, ref, shallowRef } from 'vue'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { byOrder, rows } from '@nullet/core/session/session'
import { dB, parseDb } from '~/components/format'
import { matching } from '~/components/network/matching'
import { useGestures } from '~/stores/gestures'
import { newId } from '~/stores/ids'
import { useNotices } from '~/stores/notices'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { cellsOf, columnsOf, type Cell, type Column } from './grid'

const ROW = 26, COL = 38, HEAD = 128, NAME = 178
const WRITE = [{ value: 'main', label: 'main feed' }, { value: 'post', label: 'send, post' }, { value: 'pre', label: 'send, pre' }, { value: 'none', label: 'nothing' }] as const
type Write = typeof WRITE[number]['value']

const store = useSession(), selection = useSelection(), gestures = useGestures(), notices = useNotices()
const scroller = ref<HTMLElement>()
const writing = ref<Write>('main')
const columns = computed(() => columnsOf(store.session!))
const cells = computed(() => cellsOf(store.network!))
const lines = computed(() => {
  const found = matching(store.session!, selection.filter)
  return rows(store.session!, 'channel').filter(c => !found || found.has(c.id)).sort((a, b) => Number(a.kind === 'bus') - Number(b.kind === 'bus') || byOrder(a, b))
})
const vertical = useVirtualizer(computed(() => ({ count: lines.value.length, getScrollElement: () => scroller.value ?? null, estimateSize: () => ROW, overscan: 10, paddingStart: HEAD })))
const horizontal = useVirtualizer(computed(() => ({ horizontal: true, count: columns.value.length, getScrollElement: () => scroller.value ?? null, estimateSize: () => COL, overscan: 8, paddingStart: NAME })))
const at = shallowRef<{ row: number, col: number } | null>(null)
const typed = ref('')
const painting = shallowRef<{ write: Write, cells: Map<string, { from: string, column: Column }> } | null>(null)

const cellAt = (row: number, col: number): Cell | undefined => cells.value.get(lines.value[row]?.id ?? '')?.get(columns.value[col]?.key ?? '')
const starts = computed(() => columns.value.map((c, i) => i === 0 || columns.value[i - 1]!.group !== c.group))

const editOf = (list: Iterable<{ from: string, column: Column }>, write: Write) =>
  ({ verb: 'writeCrosspoints', args: { cells: [...list].map(c => ({ from: c.from, to: c.column.goal, write, feedId: newId() })) } })

/** Writing what is there already takes it away. */
function writeFor(cell: Cell | undefined): Write {
  if (writing.value === 'none' || !cell) return writing.value
  if (cell.key || cell.port) return 'none'
  return (writing.value === 'main' ? cell.main : cell.send?.tap === writing.value) ? 'none' : writing.value
}

function down(row: number, col: number): void {
  at.value = { row, col }
  const write = writeFor(cellAt(row, col))
  painting.value = { write, cells: new Map() }
  paint(row, col)
  window.addEventListener('pointerup', up, { once: true })
}
function paint(row: number, col: number): void {
  const p = painting.value, from = lines.value[row]?.id, column = columns.value[col]
  if (!p || !from || !column || p.cells.has(`${from} ${column.key}`)) return
  const one = { from, column }
  const refused = p.write === 'none' ? undefined : gestures.refusal(editOf([one], p.write))
  if (refused) { if (!p.cells.size) notices.wrong(new Error(refused)); return }
  painting.value = { ...p, cells: new Map(p.cells).set(`${from} ${column.key}`, one) }
}
function up(): void {
  const p = painting.value
  painting.value = null
  if (!p?.cells.size) return
  const edit = editOf(p.cells.values(), p.write)
  store.apply(edit.verb, edit.args)
}

function key(e: KeyboardEvent): void {
  const step = { ArrowDown: [1, 0], ArrowUp: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1] }[e.key]
  const here = at.value ?? { row: 0, col: 0 }
  if (step) {
    e.preventDefault()
    at.value = { row: Math.max(0, Math.min(lines.value.length - 1, here.row + step[0]!)), col: Math.max(0, Math.min(columns.value.length - 1, here.col + step[1]!)) }
    typed.value = ''
    vertical.value.scrollToIndex(at.value.row)
    horizontal.value.scrollToIndex(at.value.col)
  } else if (/^[\d.,+-]$/.test(e.key) && at.value) {
    e.preventDefault()
    e.stopPropagation()
    typed.value += e.key
  } else if (e.key === 'Backspace' && typed.value) typed.value = typed.value.slice(0, -1)
  else if (e.key === 'Enter' && at.value) {
    e.preventDefault()
    e.stopPropagation()
    if (typed.value) setLevel()
    else { down(here.row, here.col); window.removeEventListener('pointerup', up); up() }
  } else if (e.key === 'Escape' && typed.value) { e.stopPropagation(); typed.value = '' }
}
function setLevel(): void {
  const cell = cellAt(at.value!.row, at.value!.col), feed = cell?.send ?? cell?.key ?? cell?.port ?? cell?.main
  const levelDb = parseDb(typed.value)
  typed.value = ''
  if (!feed) notices.tell('There is no feed in this cell to give a level to.')
  else if (!Number.isNaN(levelDb)) store.apply('setFeeds', { ids: [feed.id], fields: { levelDb } })
}

const summary = computed(() => {
  if (!at.value) return 'choose what to write with, then click or drag across cells; arrows move, Enter writes, digits and Enter set a level'
  const channel = lines.value[at.value.row], column = columns.value[at.value.col]
  if (!channel || !column) return ''
  const goes = cells.value.get(channel.id)?.size ?? 0
  const from = lines.value.filter(l => cells.value.get(l.id)?.has(column.key)).map(l => l.name)
  const cell = cellAt(at.value.row, at.value.col)
  const level = cell?.send ?? cell?.key ?? cell?.port ?? cell?.main
  return `${channel.name} → ${column.name}${level ? `: ${dB(level.levelDb)} dB` : ''}  ·  ${channel.name} goes to ${goes}  ·  ${column.name} is fed by ${from.length}${from.length && from.length < 5 ? `: ${from.join(', ')}` : ''}`
})
const isPainted = (from: string, column: string) => painting.value?.cells.has(`${from} ${column}`)
void nextTick(() => scroller.value?.focus())
</script>

<template>
  <div class="bar">
    <span class="caption">write with</span>
    <el-radio-group v-model="writing" size="small" aria-label="write with"><el-radio-button v-for="w in WRITE" :key="w.value" :value="w.value">{{ w.label }}</el-radio-button></el-radio-group>
    <span class="quiet clip summary" data-summary>{{ typed ? `level: ${typed}` : summary }}</span>
  </div>
  <div ref="scroller" class="scroll grid" tabindex="0" role="grid" aria-label="crosspoints" @keydown="key">
    <div :style="{ height: `${vertical.getTotalSize()}px`, width: `${horizontal.getTotalSize() + 24}px`, position: 'relative' }">
      <div class="heads" :style="{ height: `${HEAD}px` }">
        <div v-for="c in horizontal.getVirtualItems()" :key="columns[c.index]!.key" class="head" :class="{ on: at?.col === c.index, first: starts[c.index] }" :style="{ left: `${c.start}px`, width: `${COL}px` }" :title="[columns[c.index]!.name, columns[c.index]!.hint].filter(Boolean).join(': ')">
          <span class="name" :style="{ borderColor: `var(--hue-${columns[c.index]!.colour})` }">{{ columns[c.index]!.name }}</span>
          <span v-if="starts[c.index]" class="caption group">{{ columns[c.index]!.group }}</span>
        </div>
      </div>
      <div v-for="r in vertical.getVirtualItems()" :key="lines[r.index]!.id" class="row" role="row" :class="{ on: at?.row === r.index, bus: lines[r.index]!.kind === 'bus' }" :style="{ top: `${r.start}px`, height: `${ROW}px` }">
        <button class="plain who clip" role="rowheader" :style="{ width: `${NAME - 8}px`, borderColor: `var(--hue-${lines[r.index]!.colour})` }" :class="{ selected: selection.ids.has(lines[r.index]!.id) }" @click="selection.click(lines[r.index]!.id, $event, lines.map(l => l.id))">{{ lines[r.index]!.name }}</button>
        <span
          v-for="c in horizontal.getVirtualItems()" :key="c.index" class="cell" role="gridcell" :class="{ here: at?.row === r.index && at?.col === c.index, painted: isPainted(lines[r.index]!.id, columns[c.index]!.key), first: starts[c.index], own: columns[c.index]!.channel === lines[r.index]!.id }"
          :data-cell="`${lines[r.index]!.id} ${columns[c.index]!.key}`" :style="{ left: `${c.start}px`, width: `${COL}px` }" @pointerdown.prevent="down(r.index, c.index); scroller?.focus()" @pointerenter="painting ? paint(r.index, c.index) : undefined">
          <i v-if="cellAt(r.index, c.index)?.main" class="main" /><i v-if="cellAt(r.index, c.index)?.key" class="key" /><i v-if="cellAt(r.index, c.index)?.port" class="port" />
          <small v-if="cellAt(r.index, c.index)?.send" :class="cellAt(r.index, c.index)!.send!.tap">{{ dB(cellAt(r.index, c.index)!.send!.levelDb, 0) }}</small>
        </span>
      </div>
    </div>
  </div>
</template>

<style scoped>
.bar { display: flex; gap: 12px; align-items: center; padding: 6px 16px; border-bottom: 1px solid var(--rule); }
.summary { flex: 1; }
.grid { flex: 1; min-height: 0; }
/* The cell that keys act on shows where the focus is. */
.grid:focus-visible { outline: none; }
.heads { position: sticky; top: 0; z-index: 3; background: var(--ground); border-bottom: 1px solid var(--rule); }
.head { position: absolute; top: 0; bottom: 0; border-left: 1px solid transparent; }
.head.first, .cell.first { border-left: 1px solid var(--rule); }
.head .name { position: absolute; left: 9px; bottom: 6px; writing-mode: vertical-rl; transform: rotate(180deg); max-height: 100px; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; font-size: 12px; border-right: 3px solid; padding-right: 3px; }
.head.on .name { color: var(--acting); }
.group { position: absolute; top: 4px; left: 4px; white-space: nowrap; }
.row { position: absolute; left: 0; right: 0; }
.row:hover, .row.on { background: color-mix(in srgb, var(--surface) 70%, transparent); }
.who { position: sticky; left: 0; z-index: 2; display: block; height: 24px; padding: 2px 8px; background: var(--ground); border-left: 4px solid; font-size: 12px; margin-left: 4px; }
.bus .who { font-weight: 500; }
.who.selected { color: var(--acting); }
.cell { position: absolute; top: 0; height: 26px; border-right: 1px solid color-mix(in srgb, var(--rule) 55%, transparent); border-bottom: 1px solid color-mix(in srgb, var(--rule) 55%, transparent); display: grid; place-items: center; grid-auto-flow: column; gap: 2px; cursor: cell; }
.cell:hover { background: var(--acting-soft); }
.cell.here { outline: 2px solid var(--acting); outline-offset: -2px; }
.cell.painted { background: var(--acting-soft); }
.cell.own { background: var(--hatch); }
.main { width: 10px; height: 10px; border-radius: 50%; background: var(--signal); }
.key { width: 8px; height: 8px; background: var(--key); transform: rotate(45deg); }
.port { width: 11px; height: 8px; border-top: 3px double var(--ink); border-bottom: 3px double var(--ink); }
small { font: 11px var(--mono); color: var(--acting); border-bottom: 1px dashed var(--acting); }
small.pre { border-bottom-style: solid; }
</style>

<script setup lang="ts">
// The same network as a grid. Choose what to write with, then click, drag across, or move with arrows and type a level.
import { computed, nextTick, ref, shallowRef } from 'vue'
import { useVirtualizer } from '@tanstack/vue-virtual'
import type { Channel } from '@nullet/core/session/rows'
import { rows } from '@nullet/core/session/session'
import { useShown } from '~/keyboard/shown'
import { dB } from '~/words/format'
import { readNumber } from '~/numbers/read'
import { matching } from '~/session/matching'
import { useFolding } from '~/stores/folding'
import { useGestures } from '~/stores/gestures'
import { newId } from '~/stores/ids'
import { useNotices } from '~/stores/notices'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { COL, HEAD, NAME, ROW } from './measures'
import { gridLines, GROUPINGS, type Grouping } from './gridLines'
import { useShell } from '~/stores/shell'
import { cellsOf, columnsOf, type Cell, type Column } from './grid'

const WRITE = [
  { value: 'main', label: 'main feed' },
  { value: 'also', label: 'one more main' },
  { value: 'post', label: 'send, post' },
  { value: 'pre', label: 'send, pre' },
  { value: 'none', label: 'nothing' }
] as const
type Write = (typeof WRITE)[number]['value']

const store = useSession(),
  selection = useSelection(),
  folding = useFolding(),
  gestures = useGestures(),
  notices = useNotices(),
  shell = useShell()
const scroller = ref<HTMLElement>()
const writing = ref<Write>('main')
const columns = computed(() => columnsOf(store.session!))
const cells = computed(() => cellsOf(store.network!))
const grouping = ref<Grouping>('none')
const folded = shallowRef<ReadonlySet<string>>(new Set())
const lines = computed(() =>
  gridLines(store.network!, folding.shown(matching(store.session!, selection.filter)), grouping.value, folded.value)
)
const order = computed(() => lines.value.flatMap(l => (l.kind === 'channel' ? [l.channel.id] : [])))
useShown(() => order.value)
const idAt = (row: number) => {
  const line = lines.value[row]
  return line?.kind === 'channel' ? line.channel.id : undefined
}
function fold(title: string): void {
  const next = new Set(folded.value)
  if (!next.delete(title)) next.add(title)
  folded.value = next
}
const vertical = useVirtualizer(
  computed(() => ({
    count: lines.value.length,
    getScrollElement: () => scroller.value ?? null,
    estimateSize: () => ROW,
    overscan: 10,
    paddingStart: HEAD
  }))
)
const horizontal = useVirtualizer(
  computed(() => ({
    horizontal: true,
    count: columns.value.length,
    getScrollElement: () => scroller.value ?? null,
    estimateSize: () => COL,
    overscan: 8,
    paddingStart: NAME
  }))
)
const at = shallowRef<{ row: number; col: number } | null>(null)
/** Under the pointer: its sums are shown before those of the cell that keys act on. */
const hovered = shallowRef<{ row: number; col: number } | null>(null)
const typed = ref('')
const painting = shallowRef<{ write: Write; cells: Map<string, { from: string; column: Column }> } | null>(null)

const cellAt = (row: number, col: number): Cell | undefined =>
  cells.value.get(idAt(row) ?? '')?.get(columns.value[col]?.key ?? '')
const starts = computed(() => columns.value.map((c, i) => i === 0 || columns.value[i - 1]!.group !== c.group))

const editOf = (list: Iterable<{ from: string; column: Column }>, write: Write) => ({
  verb: 'writeCrosspoints',
  args: { cells: [...list].map(c => ({ from: c.from, to: c.column.goal, write, feedId: newId() })) }
})

/** Writing what is there already takes it away. */
function writeFor(cell: Cell | undefined): Write {
  if (writing.value === 'none' || !cell) return writing.value
  if (cell.key || cell.port) return 'none'
  const there = writing.value === 'main' || writing.value === 'also' ? cell.main : cell.send?.tap === writing.value
  return there ? 'none' : writing.value
}

function down(row: number, col: number): void {
  at.value = { row, col }
  const write = writeFor(cellAt(row, col))
  scroller.value?.focus()
  painting.value = { write, cells: new Map() }
  paint(row, col)
  window.addEventListener('pointerup', up, { once: true })
}
function paint(row: number, col: number): void {
  const p = painting.value,
    from = idAt(row),
    column = columns.value[col]
  if (!p || !from || !column || p.cells.has(`${from} ${column.key}`)) return
  const one = { from, column }
  const refused = p.write === 'none' ? undefined : gestures.refusal(editOf([one], p.write))
  if (refused) {
    if (!p.cells.size) notices.wrong(new Error(refused))
    return
  }
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
    at.value = {
      row: Math.max(0, Math.min(lines.value.length - 1, here.row + step[0]!)),
      col: Math.max(0, Math.min(columns.value.length - 1, here.col + step[1]!))
    }
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
    else {
      down(here.row, here.col)
      window.removeEventListener('pointerup', up)
      up()
    }
  } else if (e.key === 'Escape' && typed.value) {
    e.stopPropagation()
    typed.value = ''
  }
}
function setLevel(): void {
  const cell = cellAt(at.value!.row, at.value!.col),
    feed = cell?.send ?? cell?.key ?? cell?.port ?? cell?.main
  const read = readNumber(typed.value, { unit: 'dB', min: -150, max: 48 })
  typed.value = ''
  if (!feed) notices.tell('There is no feed in this cell to give a level to.')
  else if ('fault' in read) notices.tell(`Nothing was changed: ${read.fault}.`)
  else store.apply('setFeeds', { ids: [feed.id], fields: { levelDb: read.value } })
}

const summary = computed(() => {
  const here = hovered.value ?? at.value
  if (!here) return 'Click or drag across cells to write. Arrows move, Enter writes, digits and Enter set a level.'
  const line = lines.value[here.row],
    channel = line?.kind === 'channel' ? line.channel : undefined,
    column = columns.value[here.col]
  if (!channel || !column) return ''
  const goes = cells.value.get(channel.id)?.size ?? 0
  const from = rows(store.session!, 'channel')
    .filter(l => cells.value.get(l.id)?.has(column.key))
    .map(l => l.name)
  const cell = cellAt(here.row, here.col)
  const level = cell?.send ?? cell?.key ?? cell?.port ?? cell?.main
  return `${channel.name} → ${column.name}${level ? `: ${dB(level.levelDb)} dB` : ''}. ${channel.name} goes to ${goes}; ${column.name} is fed by ${from.length}${from.length && from.length < 5 ? `: ${from.join(', ')}` : ''}`
})
const paintedBy = (from: string) =>
  painting.value
    ? new Set(columns.value.filter(c => painting.value!.cells.has(`${from} ${c.key}`)).map(c => c.key))
    : undefined
void nextTick(() => scroller.value?.focus())
</script>

<template>
  <div class="bar">
    <span class="caption">write with</span>
    <el-radio-group v-model="writing" size="small" aria-label="write with"
      ><el-radio-button v-for="w in WRITE" :key="w.value" :value="w.value">{{
        w.label
      }}</el-radio-button></el-radio-group
    >
    <span class="caption">rows by</span>
    <el-select v-model="grouping" size="small" class="grouping" aria-label="gather rows by"
      ><el-option v-for="g in GROUPINGS" :key="g" :value="g" :label="g === 'none' ? 'order' : g"
    /></el-select>
    <button class="plain act" title="t c" data-table @click="shell.sheet = 'table'">table…</button>
  </div>
  <div
    ref="scroller"
    class="scroll grid"
    tabindex="0"
    role="grid"
    aria-label="crosspoints"
    @keydown="key"
    @pointerleave="hovered = null"
  >
    <div
      :style="{
        height: `${vertical.getTotalSize()}px`,
        width: `${horizontal.getTotalSize() + 24}px`,
        position: 'relative'
      }"
    >
      <div class="heads" :style="{ height: `${HEAD}px` }">
        <p class="quiet summary" :style="{ width: `${NAME - 4}px`, height: `${HEAD - 1}px` }" data-summary>
          {{ typed ? `level: ${typed}` : summary }}
        </p>
        <div
          v-for="c in horizontal.getVirtualItems()"
          :key="columns[c.index]!.key"
          class="head"
          :class="{ on: at?.col === c.index, first: starts[c.index] }"
          :style="{ left: `${c.start}px`, width: `${COL}px` }"
          :title="[columns[c.index]!.name, columns[c.index]!.hint].filter(Boolean).join(': ')"
        >
          <span class="name" :style="{ borderColor: `var(--hue-${columns[c.index]!.colour})` }">{{
            columns[c.index]!.name
          }}</span>
          <span v-if="starts[c.index]" class="caption group">{{ columns[c.index]!.group }}</span>
        </div>
      </div>
      <template v-for="r in vertical.getVirtualItems()" :key="lines[r.index]!.key">
        <GridRow
          v-if="lines[r.index]!.kind === 'channel'"
          :channel="(lines[r.index] as { channel: Channel }).channel"
          :top="r.start"
          :columns="columns"
          :shown="horizontal.getVirtualItems()"
          :cells="cells.get(idAt(r.index)!)"
          :on="at?.row === r.index"
          :at="at?.row === r.index ? at.col : -1"
          :starts="starts"
          :painted="paintedBy(idAt(r.index)!)"
          @down="col => down(r.index, col)"
          @enter="
            col => {
              hovered = { row: r.index, col }
              if (painting) paint(r.index, col)
            }
          "
          @pick="e => selection.click(idAt(r.index)!, e, order)"
        />
        <button
          v-else
          class="plain group-row"
          :style="{ top: `${r.start}px` }"
          :aria-expanded="!(lines[r.index] as { folded: boolean }).folded"
          @click="fold((lines[r.index] as { title: string }).title)"
        >
          {{ (lines[r.index] as { folded: boolean }).folded ? '▸' : '▾' }}
          {{ (lines[r.index] as { title: string }).title }}
          <span class="quiet">{{ (lines[r.index] as { members: string[] }).members.length }}</span>
        </button>
      </template>
    </div>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 6px 16px;
  border-bottom: 1px solid var(--rule);
}
.summary {
  position: sticky;
  left: 0;
  z-index: 4;
  margin: 0;
  padding: 6px 8px 0 12px;
  background: var(--ground);
  font-size: 11px;
  line-height: 1.35;
  overflow: hidden;
}
.grid {
  flex: 1;
  min-height: 0;
}
/* The cell that keys act on shows where the focus is. */
.grid:focus-visible {
  outline: none;
}
.heads {
  position: sticky;
  top: 0;
  z-index: 3;
  background: var(--ground);
  border-bottom: 1px solid var(--rule);
}
.head {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1px solid transparent;
}
.head.first {
  border-left: 1px solid var(--rule);
}
.head .name {
  position: absolute;
  left: 9px;
  bottom: 6px;
  writing-mode: vertical-rl;
  transform: rotate(180deg);
  max-height: 100px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-size: 12px;
  border-right: 3px solid;
  padding-right: 3px;
}
.head.on .name {
  color: var(--acting);
}
.group {
  position: absolute;
  top: 4px;
  left: 4px;
  white-space: nowrap;
}
.group-row {
  position: absolute;
  left: 0;
  height: 26px;
  padding: 4px 12px 0;
  font-size: 11px;
  font-weight: 500;
  color: var(--ink-2);
  position: absolute;
  width: 100%;
  background: var(--ground);
}
.grouping {
  width: 92px;
}
.act {
  color: var(--acting);
}
</style>

<script setup lang="ts">
// One channel's row of the grid.
import type { Channel } from '@nullet/core/session/rows'
import { dB } from '~/words/format'
import { useSelection } from '~/stores/selection'
import type { Cell, Column } from './grid'
import { COL, NAME, ROW } from './measures'

defineProps<{
  channel: Channel
  top: number
  columns: Column[]
  shown: readonly { index: number; start: number }[]
  cells?: Map<string, Cell>
  on: boolean
  /** The cell that keys act on, −1 for none. */ at: number
  starts: boolean[]
  painted?: ReadonlySet<string>
}>()
const emit = defineEmits<{ down: [col: number]; enter: [col: number]; pick: [event: MouseEvent] }>()
const selection = useSelection()
</script>

<template>
  <div
    class="row"
    role="row"
    :class="{ on, bus: channel.kind === 'bus' }"
    :style="{ top: `${top}px`, height: `${ROW}px` }"
  >
    <span role="rowheader" class="header"
      ><button
        class="plain who clip"
        :style="{ width: `${NAME - 8}px`, borderColor: `var(--hue-${channel.colour})` }"
        :class="{ selected: selection.ids.has(channel.id) }"
        @click="emit('pick', $event)"
      >
        {{ channel.name }}
      </button></span
    >
    <span
      v-for="c in shown"
      :key="c.index"
      class="cell"
      role="gridcell"
      :class="{
        here: at === c.index,
        painted: painted?.has(columns[c.index]!.key),
        first: starts[c.index],
        own: columns[c.index]!.channel === channel.id,
        closed: cells?.get(columns[c.index]!.key)?.closed
      }"
      :data-cell="`${channel.id} ${columns[c.index]!.key}`"
      :style="{ left: `${c.start}px`, width: `${COL}px` }"
      @pointerdown.left.prevent="emit('down', c.index)"
      @pointerenter="emit('enter', c.index)"
    >
      <template v-if="cells?.get(columns[c.index]!.key)">
        <i v-if="cells.get(columns[c.index]!.key)!.main" class="main" /><i
          v-if="cells.get(columns[c.index]!.key)!.key"
          class="key"
        /><i v-if="cells.get(columns[c.index]!.key)!.port" class="port" />
        <small v-if="cells.get(columns[c.index]!.key)!.send" :class="cells.get(columns[c.index]!.key)!.send!.tap">{{
          dB(cells.get(columns[c.index]!.key)!.send!.levelDb, 0)
        }}</small>
      </template>
    </span>
  </div>
</template>

<style scoped>
.header {
  display: contents;
}
.row {
  position: absolute;
  left: 0;
  right: 0;
}
.row:hover,
.row.on {
  background: color-mix(in srgb, var(--surface) 70%, transparent);
}
.who {
  position: sticky;
  left: 0;
  z-index: 2;
  display: block;
  height: 24px;
  padding: 2px 8px;
  background: var(--ground);
  border-left: 4px solid;
  font-size: 12px;
  margin-left: 4px;
}
.bus .who {
  font-weight: 500;
}
.who.selected {
  color: var(--acting);
}
.cell {
  position: absolute;
  top: 0;
  height: 26px;
  border-right: 1px solid color-mix(in srgb, var(--rule) 55%, transparent);
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 55%, transparent);
  display: grid;
  place-items: center;
  grid-auto-flow: column;
  gap: 2px;
  cursor: cell;
}
.cell.closed > * {
  opacity: 0.35;
}
.cell.first {
  border-left: 1px solid var(--rule);
}
.cell:hover {
  background: var(--acting-soft);
}
.cell.here {
  outline: 2px solid var(--acting);
  outline-offset: -2px;
}
.cell.painted {
  background: var(--acting-soft);
}
.cell.own {
  background: var(--hatch);
}
.main {
  width: 10px;
  height: 10px;
  border-radius: 50%;
  background: var(--signal);
}
.key {
  width: 8px;
  height: 8px;
  background: var(--key);
  transform: rotate(45deg);
}
.port {
  width: 11px;
  height: 8px;
  border-top: 3px double var(--ink);
  border-bottom: 3px double var(--ink);
}
small {
  font: 11px var(--mono);
  color: var(--acting);
  border-bottom: 1px dashed var(--acting);
}
small.pre {
  border-bottom-style: solid;
}
</style>

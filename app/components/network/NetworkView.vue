<script setup lang="ts">
// The Map with its filter and the verbs for what is selected; the Rail of an opened channel above it.
import { computed } from 'vue'
import { rows } from '@nullet/core/session/session'
import { goTo } from '~/stores/goTo'
import { useFinding } from '~/stores/finding'
import { useGestures } from '~/stores/gestures'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { plural } from '~/words/format'
import type { FitItem } from '../shell/FitRow.vue'
import { matching } from '~/session/matching'

const store = useSession(),
  selection = useSelection(),
  gestures = useGestures(),
  finding = useFinding(),
  shell = useShell()
const counts = computed(() => {
  const all = rows(store.session!, 'channel')
  const loops = rows(store.session!, 'loop').length
  const tracks = all.filter(c => c.kind === 'track').length
  return [
    plural(tracks, 'track', 'tracks'),
    plural(all.length - tracks, 'bus', 'buses'),
    ...(loops ? [plural(loops, 'loop', 'loops')] : [])
  ].join(' · ')
})
const found = computed(() => matching(store.session!, selection.filter))
const ofSelection: FitItem[] = [
  { label: 'new submix…', title: 'n s', run: () => gestures.newSubmix(selection.list) },
  { label: 'feed to…', title: 'f t', run: () => gestures.askFeed(selection.list) },
  { label: 'send to…', title: 's t', run: () => gestures.askSend(selection.list, 'post') },
  { label: 'key to…', title: 'k t', run: () => gestures.askKey(selection.list) },
  { label: 'print…', title: 'p r', run: () => gestures.printThese(selection.list) }
]
const verbs = computed((): FitItem[] => {
  if (selection.list.length) return ofSelection.map(v => ({ ...v, look: 'acting' }))
  const compact = {
    label: shell.compact ? 'wide strips' : 'compact strips',
    title: 'v w',
    attrs: { 'data-compact': '' },
    run: shell.toggleCompact
  }
  const all: FitItem[] = [
    ...(shell.networkAs === 'map' ? [compact] : []),
    { label: 'propose…', title: 'n p', attrs: { 'data-propose': '' }, run: () => (shell.sheet = 'propose') },
    { label: 'new channels…', title: 'n c', attrs: { 'data-new-channels': '' }, run: () => (shell.sheet = 'channels') },
    { label: 'new return…', title: 'n r', run: () => gestures.newBus('return', 'return') }
  ]
  return all.map(v => ({ ...v, look: 'acting' }))
})
/** Nothing but the main that a new session has. */
const isBare = computed(() => {
  const all = rows(store.session!, 'channel')
  return all.length <= 1 && all.every(c => c.kind === 'bus')
})
const EMPTY = {
  map: {
    title: 'The network begins with tracks',
    text: 'The Map shows tracks at the left, the buses they feed to their right, returns and loops below: drag from one to the other to feed, send or key.'
  },
  crosspoints: {
    title: 'No crosspoints yet',
    text: 'Here every channel is a line and every bus a column; where they cross, a feed or a send is painted with its level.'
  },
  cost: {
    title: 'Nothing to measure yet',
    text: 'Here the time of every processor and channel is measured, and what sharing or parking would save.'
  }
} as const
const steps = [
  { label: 'Bring in audio…', run: () => goTo(`/s/${store.id}/sources`) },
  { label: 'New channels…', run: () => (shell.sheet = 'channels') },
  { label: 'A template…', run: () => (shell.sheet = 'templates') }
]
</script>

<template>
  <div class="tools">
    <el-radio-group v-model="shell.networkAs" size="small" aria-label="view of the network"
      ><el-radio-button value="map">Map</el-radio-button
      ><el-radio-button value="crosspoints">Crosspoints</el-radio-button
      ><el-radio-button value="cost">Cost</el-radio-button></el-radio-group
    >
    <el-input
      v-model="selection.filter"
      data-filter
      class="filter"
      placeholder="filter: name, family, role"
      clearable
      @keydown.enter="
        $event => {
          if (found) finding.selectFound()
          ;($event.target as HTMLElement).blur()
        }
      "
      @keydown.esc.stop="
        $event => {
          selection.filter = ''
          ;($event.target as HTMLElement).blur()
        }
      "
    />
    <span v-if="found" class="quiet"
      >{{ found.size }} found <button class="plain verb" @click="finding.selectFound">select them</button></span
    >
    <span v-else class="quiet count">{{ counts }}</span>
    <span v-if="selection.list.length" class="quiet count">selected: {{ selection.list.length }}</span>
    <FitRow :items="verbs" />
  </div>
  <RailView v-if="shell.railOf && store.session!.channel[shell.railOf]" :id="shell.railOf" :key="shell.railOf" />
  <div class="area" :class="{ bare: isBare }">
    <EmptyView v-if="isBare" :title="EMPTY[shell.networkAs].title" :steps="steps" class="over">{{
      EMPTY[shell.networkAs].text
    }}</EmptyView>
    <MapView v-if="shell.networkAs === 'map'" />
    <CrosspointsView v-else-if="shell.networkAs === 'crosspoints' && !isBare" />
    <CostView v-else-if="shell.networkAs === 'cost' && !isBare" />
  </div>
</template>

<style scoped>
.area {
  position: relative;
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
}
.bare > .over {
  position: absolute;
  inset: 12% 24px auto;
  z-index: 2;
  pointer-events: none;
}
.bare > .over :deep(button) {
  pointer-events: auto;
}
.verb {
  color: var(--acting);
}
.verb:hover {
  text-decoration: underline;
}
</style>

<script setup lang="ts">
// The Map with its filter and the verbs for what is selected; the Rail of an opened channel above it.
import { computed } from 'vue'
import { rows } from '@nullet/core/session/session'
import { useFinding } from '~/stores/finding'
import { useGestures } from '~/stores/gestures'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
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
  return `${tracks} tracks · ${all.length - tracks} buses${loops ? ` · ${loops} ${loops === 1 ? 'loop' : 'loops'}` : ''}`
})
const found = computed(() => matching(store.session!, selection.filter))
const verbs = [
  { label: 'new submix…', keys: 'n s', run: () => gestures.newSubmix(selection.list) },
  { label: 'feed to…', keys: 'f t', run: () => gestures.askFeed(selection.list) },
  { label: 'send to…', keys: 's t', run: () => gestures.askSend(selection.list, 'post') },
  { label: 'key to…', keys: 'k t', run: () => gestures.askKey(selection.list) },
  { label: 'print…', keys: 'p r', run: () => gestures.printThese(selection.list) }
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
    <span v-else class="quiet">{{ counts }}</span>
    <span class="space" />
    <template v-if="selection.list.length">
      <span class="quiet">selected: {{ selection.list.length }}</span>
      <button v-for="v in verbs" :key="v.keys" class="plain verb" :title="v.keys" @click="v.run">{{ v.label }}</button>
    </template>
    <template v-else>
      <button v-if="shell.networkAs === 'map'" class="plain verb" title="v w" data-compact @click="shell.toggleCompact">
        {{ shell.compact ? 'wide strips' : 'compact strips' }}
      </button>
      <button class="plain verb" title="n p" data-propose @click="shell.sheet = 'propose'">propose…</button>
      <button class="plain verb" title="n c" data-new-channels @click="shell.sheet = 'channels'">new channels…</button>
      <button class="plain verb" title="n r" @click="gestures.newBus('return', 'return')">new return…</button>
    </template>
  </div>
  <RailView v-if="shell.railOf && store.session!.channel[shell.railOf]" :id="shell.railOf" :key="shell.railOf" />
  <CrosspointsView v-if="shell.networkAs === 'crosspoints'" />
  <CostView v-else-if="shell.networkAs === 'cost'" />
  <MapView v-else />
</template>

<style scoped>
.tools {
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 6px 16px;
  border-bottom: 1px solid var(--rule);
  white-space: nowrap;
  min-height: 41px;
}
.filter {
  width: 180px;
  flex: none;
}
.space {
  flex: 1;
}
.verb {
  color: var(--acting);
}
.verb:hover {
  text-decoration: underline;
}
</style>

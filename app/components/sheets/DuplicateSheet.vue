<script setup lang="ts">
// Copies of what is selected, with what belongs to it.
import { computed, ref } from 'vue'
import { ALONG, type Along } from '@nullet/core/edits/duplicateChannels'
import { byOrder, rows } from '@nullet/core/session/session'
import { newId, ordersAtEnd } from '~/stores/ids'
import { namesOf } from '~/stores/names'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'

const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  selection = useSelection()
const WORDS: Record<Along, string> = {
  clips: 'clips',
  slots: 'slots, with the keys into them',
  main: 'main feeds',
  sends: 'sends and port feeds',
  keys: 'keys that it steers',
  arriving: 'what feeds it',
  envelopes: 'movement'
}
const along = ref<Along[]>(['clips', 'slots', 'main', 'sends'])
const originals = computed(() => selection.list.map(id => store.session!.channel[id]!).sort(byOrder))

function copyName(name: string): string {
  const taken = new Set(rows(store.session!, 'channel').map(c => c.name))
  for (let i = 2; ; i++) if (!taken.has(`${name} (${i})`)) return `${name} (${i})`
}
function make(): void {
  const orders = ordersAtEnd(rows(store.session!, 'channel'), originals.value.length)
  const copies = originals.value.map((c, i) => ({
    of: c.id,
    id: newId(),
    name: copyName(c.name).slice(0, 300),
    order: orders[i]!
  }))
  if (!store.apply('duplicateChannels', { copies, along: along.value })) return
  selection.set(
    copies.map(c => c.id),
    copies[0]!.id
  )
  emit('close')
}
</script>

<template>
  <p class="quiet">{{ namesOf(store.session!, selection.list) }}: what is copied with it?</p>
  <el-checkbox-group v-model="along" class="list"
    ><el-checkbox v-for="a in ALONG" :key="a" :value="a" :data-along="a">{{ WORDS[a] }}</el-checkbox></el-checkbox-group
  >
  <SheetEnd
    label="Duplicate"
    :disabled="!originals.length"
    note="A loop stays with the original: it can be in one place at a time."
    @close="emit('close')"
    @done="make"
  />
</template>

<style scoped>
p {
  margin: 0 0 8px;
}
.list {
  display: grid;
}
</style>

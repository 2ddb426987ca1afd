<script setup lang="ts">
// Several channels at once: kind, how many, names in series, layout, where they go.
import { computed, ref } from 'vue'
import { LAYOUTS } from '@nullet/core/session/layouts'
import { familyTable, guessFamily } from '@nullet/core/session/families'
import { byOrder, rows } from '@nullet/core/session/session'
import { seriesNames } from '@nullet/core/session/series'
import { newId, ordersAtEnd } from '~/stores/ids'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'

const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  selection = useSelection()
const ROLES = [
  { value: 'track', label: 'tracks' },
  { value: 'submix', label: 'submixes' },
  { value: 'return', label: 'returns' },
  { value: 'stem', label: 'stems' },
  { value: 'main', label: 'mains' }
] as const
const role = ref<(typeof ROLES)[number]['value']>('track')
const count = ref(4)
const pattern = ref('Track ##')
const layout = ref('stereo')
const buses = computed(() =>
  rows(store.session!, 'channel')
    .filter(c => c.kind === 'bus')
    .sort(byOrder)
)
const to = ref(buses.value.find(b => b.role === 'main')?.id ?? '')
const names = computed(() => seriesNames(pattern.value || 'Channel', count.value))
const shown = computed(() =>
  names.value.length > 5 ? `${names.value.slice(0, 4).join(', ')} … ${names.value.at(-1)}` : names.value.join(', ')
)

function make(): void {
  const all = rows(store.session!, 'channel')
  const orders = ordersAtEnd(all, count.value)
  const channels = names.value.map((name, i) => ({ id: newId(), name, order: orders[i]!, feedId: newId() }))
  const { family, colour } = guessFamily(pattern.value, familyTable(store.session!))
  const made = store.apply('createChannels', {
    channels,
    role: role.value,
    layout: LAYOUTS[layout.value]!,
    to: role.value === 'main' ? null : to.value || null,
    family,
    colour
  })
  if (!made) return
  selection.set(
    channels.map(c => c.id),
    channels[0]!.id
  )
  emit('close')
}
</script>

<template>
  <form class="form" @submit.prevent="make">
    <label>how many</label
    ><NumberField
      data-count
      :quantity="{ label: 'how many', min: 1, max: 200, whole: true, write: String }"
      :value="count"
      @done="v => (count = v ?? count)"
    />
    <label>kind</label
    ><el-select v-model="role" aria-label="kind"
      ><el-option v-for="r in ROLES" :key="r.value" :value="r.value" :label="r.label"
    /></el-select>
    <label>names</label>
    <div>
      <el-input v-model="pattern" maxlength="280" aria-label="names" data-pattern />
      <p class="caption" data-preview>{{ shown }}</p>
    </div>
    <label>layout</label
    ><el-select v-model="layout" aria-label="layout"
      ><el-option v-for="l in Object.keys(LAYOUTS)" :key="l" :value="l" :label="l"
    /></el-select>
    <template v-if="role !== 'main'"
      ><label>feed to</label
      ><el-select v-model="to" aria-label="feed to"
        ><el-option value="" label="nowhere" /><el-option
          v-for="b in buses"
          :key="b.id"
          :value="b.id"
          :label="b.name" /></el-select
    ></template>
  </form>
  <SheetEnd
    :label="count === 1 ? 'Make the channel' : `Make ${count} channels`"
    note="# in a name stands for the number, ## for two digits."
    @close="emit('close')"
    @done="make"
  />
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: 90px 1fr;
  gap: 10px 16px;
  align-items: center;
}
p {
  margin: 4px 0 0;
}
</style>

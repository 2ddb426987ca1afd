<script setup lang="ts">
// Every piece of audio of the session: what it is for, how much room it takes, and what of the prints may go.
import { computed, ref } from 'vue'
import type { Use } from '@nullet/core/print/storage'
import { size, whenText } from '~/words/format'
import { useStorage } from '~/stores/storage'

const emit = defineEmits<{ close: [] }>()
const storage = useStorage()
void storage.look()
const WORDS: Record<Use, string> = {
  recorded: 'recorded',
  heard: 'print, heard',
  parked: 'print, parked',
  take: 'take that is not heard',
  unused: 'nothing plays it'
}
const all = ref(false)
const FEW = 40
const shown = computed(() =>
  storage.held.filter(h => all.value || h.use !== 'recorded').slice(0, all.value ? 2000 : FEW)
)
const more = computed(() => storage.held.length - shown.value.length)
const going = computed(() => storage.mayGo.reduce((sum, h) => sum + h.bytes, 0))
const total = computed(() => storage.held.reduce((sum, h) => sum + h.bytes, 0))
</script>

<template>
  <div class="line">
    <span data-printed-bytes :class="{ mind: storage.isOver }">prints: {{ size(storage.bytes) || 'none' }}</span>
    <span class="quiet">of {{ size(total) || 'no audio' }} of audio in all</span>
    <span v-if="storage.freeBytes !== null" class="quiet" data-free-bytes
      >{{ size(storage.freeBytes) }} left on the disk</span
    >
  </div>
  <div class="line">
    <label for="print-budget">prints of a session take at most</label>
    <el-input-number
      id="print-budget"
      :model-value="storage.budgetGb ?? undefined"
      size="small"
      :min="0.001"
      :max="100000"
      :controls="false"
      placeholder="no limit"
      style="width: 96px"
      @update:model-value="(v: number | undefined) => (storage.budgetGb = v ?? null)"
    />
    <span>GB</span>
    <span class="quiet">kept in this browser</span>
  </div>
  <table v-if="shown.length">
    <thead>
      <tr class="caption">
        <th>audio</th>
        <th>what it is</th>
        <th>on</th>
        <th>printed</th>
        <th class="num">room</th>
        <td />
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="h in shown"
        :key="h.medium.id"
        :data-audio-held="h.medium.id"
        :class="{ going: storage.mayGo.includes(h) }"
      >
        <td class="clip" :title="h.medium.name">{{ h.medium.name }}</td>
        <td>{{ WORDS[h.use] }}</td>
        <td class="clip">{{ h.tracks.join(', ') || '–' }}</td>
        <td>{{ h.printedAt ? whenText(h.printedAt) : '–' }}</td>
        <td class="num">{{ size(h.bytes) }}</td>
        <td>
          <button
            v-if="h.use === 'take' || h.use === 'unused'"
            class="plain quiet"
            :aria-label="`remove ${h.medium.name}`"
            @click="storage.remove([h])"
          >
            ×
          </button>
        </td>
      </tr>
    </tbody>
  </table>
  <p v-else class="quiet">Nothing is printed yet.</p>
  <button v-if="more > 0" class="plain act" data-all-audio @click="all = true">
    show what was recorded, too ({{ more }})
  </button>
  <p class="quiet">
    What is removed can be brought back for 30 days; until then the disk keeps it. Whole sessions go on Home.
  </p>
  <SheetEnd
    :label="going ? `Remove what is not heard, ${size(going)}` : 'Nothing has to go'"
    :disabled="!going"
    @close="emit('close')"
    @done="storage.remove(storage.mayGo)"
  />
</template>

<style scoped>
.line,
.act,
p {
  font-size: 13px;
}
.line {
  display: flex;
  gap: 12px;
  align-items: baseline;
  margin-bottom: 8px;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 12px;
}
th {
  text-align: left;
  font-weight: 400;
}
td,
th {
  padding: 2px 12px 2px 0;
}
tbody td {
  white-space: nowrap;
  border-top: 1px solid var(--rule);
}
td.clip {
  max-width: 190px;
}
.num {
  text-align: right;
}
.going td {
  background: var(--acting-soft);
}
.mind {
  color: var(--mind);
}
.act {
  color: var(--acting);
}
</style>

<script setup lang="ts">
// Pings of a loop, the last and the earlier ones, and what has moved between the last and one of them.
import { computed, ref, watch } from 'vue'
import { whatMoved } from '@nullet/core/measure/recall'
import type { Loop, Ping } from '@nullet/core/session/rows'
import { dB, whenText } from '~/words/format'

const props = defineProps<{ loop: Loop }>()
const against = ref(0)
watch(
  () => props.loop.id,
  () => (against.value = 0)
)
const earlier = computed(() => props.loop.former[against.value])
const moved = computed(() => (props.loop.ping && earlier.value ? whatMoved(earlier.value, props.loop.ping) : []))
const when = (p: Ping) => whenText(p.measuredAt)
const kHz = (p: Ping) => `${p.sampleRate / 1000} kHz`
</script>

<template>
  <div v-if="loop.ping && loop.former.length" class="history">
    <p class="says" data-recall>
      <template v-if="moved.length">Since {{ when(earlier!) }}: {{ moved.join('; ') }}.</template
      ><template v-else>As it was on {{ when(earlier!) }}.</template>
    </p>
    <table>
      <thead>
        <tr>
          <th scope="col">ping</th>
          <th scope="col" class="num">samples</th>
          <th scope="col" class="num">gain</th>
          <th scope="col" class="num">rate</th>
          <th scope="col" class="num">driver</th>
          <th scope="col">compare</th>
        </tr>
      </thead>
      <tbody>
        <tr>
          <th scope="row">{{ when(loop.ping) }}</th>
          <td class="num">{{ loop.ping.delaySamples.toFixed(2) }}</td>
          <td class="num">{{ dB(loop.ping.gainDb) }}</td>
          <td class="num">{{ kHz(loop.ping) }}</td>
          <td class="num">{{ loop.ping.reportedSamples ?? '' }}</td>
          <td class="quiet">the last</td>
        </tr>
        <tr v-for="(p, i) in loop.former" :key="i" :class="{ on: i === against }">
          <th scope="row">{{ when(p) }}</th>
          <td class="num">{{ p.delaySamples.toFixed(2) }}</td>
          <td class="num">{{ dB(p.gainDb) }}</td>
          <td class="num">{{ kHz(p) }}</td>
          <td class="num">{{ p.reportedSamples ?? '' }}</td>
          <td>
            <input
              v-model="against"
              type="radio"
              :value="i"
              :name="`against-${loop.id}`"
              :aria-label="`compare the last ping with that of ${when(p)}`"
            />
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-else class="quiet">
    One ping so far. Ping again later, and what has moved since is told here: level, part of the band, side, time.
  </p>
</template>

<style scoped>
.says {
  margin: 6px 0;
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
thead th {
  padding-left: 8px;
  font-size: 11px;
  color: var(--ink-2);
}
.num {
  text-align: right;
}
td,
tbody th {
  padding: 2px 0 2px 8px;
  border-top: 1px solid var(--rule);
}
tbody th,
thead th:first-child {
  padding-left: 0;
}
.on {
  background: var(--acting-soft);
}
input {
  accent-color: var(--acting);
  margin: 0;
}
</style>

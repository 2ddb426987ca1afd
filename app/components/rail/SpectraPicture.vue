<script setup lang="ts">
// What goes in and comes out of a slot by frequency, and what steers it: for spectral keying with its bands.
import { computed } from 'vue'
import { bandsOf } from '@nullet/core/processors/spectral'
import type { Params } from '@nullet/core/session/rows'
import { bandHz, BANDS } from '~/audio/probe'
import { useProbe } from '~/stores/probe'

const props = defineProps<{ params: Params; slotId: string }>()
const probe = useProbe()
const W = 460,
  H = 150,
  LOW = 20,
  HIGH = 20000,
  FLOOR = -90
const x = (hz: number) => (Math.log(Math.max(LOW, hz) / LOW) / Math.log(HIGH / LOW)) * W
const y = (db: number) => Math.min(H, Math.max(0, (db / FLOOR) * H))
const bands = computed(() => bandsOf(props.params))
const line = (s: Float32Array | undefined) =>
  s ? Array.from({ length: BANDS }, (_, i) => `${x(bandHz(i)).toFixed(1)},${y(s[i]!).toFixed(1)}`).join(' ') : ''
const seen = computed(() => probe.of(props.slotId))
</script>

<template>
  <div>
    <svg
      :viewBox="`0 0 ${W} ${H}`"
      class="picture"
      role="img"
      aria-label="spectra of key, carrier and result"
      data-spectra
    >
      <g v-for="(b, i) in bands" :key="i">
        <line class="analysis" :x1="x(b.analysisHz)" :x2="x(b.analysisHz)" :y1="H - 7" :y2="H" />
        <line class="synthesis" :x1="x(b.synthesisHz)" :x2="x(b.synthesisHz)" y1="0" y2="7" />
      </g>
      <polyline class="in" :points="line(seen?.in)" />
      <polyline class="key" :points="line(seen?.key)" />
      <polyline class="out" :points="line(seen?.out)" />
      <text v-for="hz in [100, 1000, 10000]" :key="hz" :x="x(hz) + 3" :y="H - 10">
        {{ hz >= 1000 ? `${hz / 1000} kHz` : `${hz} Hz` }}
      </text>
    </svg>
    <span class="caption legend"
      ><i class="k" />key, its bands below <i class="i" />carrier, its bands above <i class="o" />what comes out</span
    >
  </div>
</template>

<style scoped>
.picture {
  width: 460px;
  height: 150px;
  display: block;
  background: var(--surface);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
}
polyline {
  fill: none;
  stroke-width: 1.5;
}
.in {
  stroke: var(--ink-3);
}
.key {
  stroke: var(--key);
  stroke-dasharray: 4 2;
}
.out {
  stroke: var(--signal);
  stroke-width: 2;
}
.analysis {
  stroke: var(--key);
  stroke-width: 2;
}
.synthesis {
  stroke: var(--signal);
  stroke-width: 2;
}
text {
  font: 9px var(--mono);
  fill: var(--ink-2);
}
.legend {
  display: flex;
  gap: 6px;
  align-items: center;
  margin-top: 3px;
}
.legend i {
  width: 14px;
  border-top: 2px solid var(--ink-3);
  margin-left: 8px;
}
.legend .k {
  border-top: 2px dashed var(--key);
}
.legend .o {
  border-color: var(--signal);
}
</style>

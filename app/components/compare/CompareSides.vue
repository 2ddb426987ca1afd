<script setup lang="ts">
// The sides of a comparison, one button each, at equal loudness, blind if wanted.
import { computed, onBeforeUnmount } from 'vue'
import { dB } from '~/words/format'
import { useAnalyst } from '~/stores/analyst'
import { BLIND, useCompare } from '~/stores/compare'

/** @param keeps what is heard at the end stays */
const props = defineProps<{ ids: string[]; keeps?: boolean }>()
const compare = useCompare(),
  analyst = useAnalyst()
// A level that was lowered for comparing does not stay so unseen.
const mine = computed(() => compare.isOf(props.ids))
onBeforeUnmount(() => {
  if (mine.value) compare.end()
})
const levels = computed(() => compare.offered.map(s => `${s.word} ${dB(s.lufs)}`).join(', '))
/** What is left of the mix when another side is taken away from the one that is heard. */
const apart = computed(() =>
  compare.offered
    .filter(s => !s.on && s.apartDb !== null)
    .map(s => (s.apartDb === -Infinity ? `the same samples as ${s.word}` : `${dB(s.apartDb!)} dB from ${s.word}`))
    .join(', ')
)
</script>

<template>
  <div v-if="mine" class="compare" role="group" aria-label="compare">
    <button
      v-for="(s, place) in compare.offered"
      :key="s.word"
      class="plain side"
      :class="{ on: s.on }"
      :aria-pressed="s.on"
      :data-side="BLIND[place]"
      @click="compare.hear(place)"
    >
      {{ s.word }}
    </button>
    <el-checkbox :model-value="compare.blind" size="small" data-blind @change="(v: unknown) => compare.setBlind(!!v)"
      >blind</el-checkbox
    >
    <span v-if="!compare.blind" class="caption clip" data-levels :title="`${levels} LUFS`"
      >{{ levels }} LUFS, matched to the quietest</span
    ><span v-if="!compare.blind && apart" class="caption clip" data-apart :title="apart">{{ apart }}</span>
    <span v-else class="caption clip">which is which is told when you end it</span>
    <span class="space" />
    <button class="plain act" data-end-compare @click="compare.end">{{ keeps ? 'keep this one' : 'end' }}</button>
  </div>
  <div v-else-if="analyst.busy === 'sides'" class="compare quiet">
    listening {{ Math.round(analyst.progress * 100) }} % <button class="plain act" @click="analyst.stop">stop</button>
  </div>
</template>

<style scoped>
.compare {
  display: flex;
  gap: 16px;
  align-items: center;
  margin-bottom: 8px;
  min-height: 24px;
  min-width: 0;
}
.side {
  border-bottom: 2px solid transparent;
  white-space: nowrap;
}
.side.on {
  border-bottom-color: var(--acting);
  font-weight: 500;
}
.clip {
  min-width: 0;
}
.space {
  flex: 1;
}
.act {
  color: var(--acting);
  white-space: nowrap;
}
</style>

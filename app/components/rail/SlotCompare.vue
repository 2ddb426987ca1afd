<script setup lang="ts">
// With and without a slot or a chain of them, at equal loudness, blind if wanted.
import { computed, onBeforeUnmount } from 'vue'
import { dB } from '~/words/format'
import { useAnalyst } from '~/stores/analyst'
import { useCompare } from '~/stores/compare'

const props = defineProps<{ ids: string[] }>()
const compare = useCompare(),
  analyst = useAnalyst()
// A level that was lowered for comparing does not stay so unseen.
const mine = computed(() => compare.pair !== null && compare.pair.slots.join() === props.ids.join())
onBeforeUnmount(() => {
  if (mine.value) compare.end()
})
const word = (one: boolean) => (compare.blind ? (one ? 'one' : 'two') : one ? 'with it' : 'without it')
</script>

<template>
  <div v-if="mine" class="compare" role="group" aria-label="compare with and without">
    <button
      v-for="one in [true, false]"
      :key="String(one)"
      class="plain side"
      :class="{ on: compare.hearsOne === one }"
      :aria-pressed="compare.hearsOne === one"
      :data-side="one ? 'one' : 'two'"
      @click="compare.hear(one)"
    >
      {{ word(one) }}
    </button>
    <el-checkbox :model-value="compare.blind" size="small" data-blind @change="(v: unknown) => compare.setBlind(!!v)"
      >blind</el-checkbox
    >
    <span v-if="!compare.blind" class="caption" data-levels
      >with it {{ dB(compare.pair!.onLufs) }} LUFS, without {{ dB(compare.pair!.offLufs) }}; the louder one is lowered
      to match</span
    >
    <span v-else class="caption">which is which is told when you end it</span>
    <span class="space" />
    <button class="plain act" data-end-compare @click="compare.end">end</button>
  </div>
  <div v-else-if="analyst.busy === 'pair'" class="compare quiet">
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
}
.side {
  border-bottom: 2px solid transparent;
}
.side.on {
  border-bottom-color: var(--acting);
  font-weight: 500;
}
.space {
  flex: 1;
}
.act {
  color: var(--acting);
}
</style>

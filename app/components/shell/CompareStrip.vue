<script setup lang="ts">
// Several mains of one session, heard one after the other, at equal loudness if wanted: only the louder ones are
// lowered.
import { computed, ref, watch } from 'vue'
import { byOrder, rows, settings } from '@nullet/core/session/session'
import { dB } from '~/words/format'
import { useAnalyst } from '~/stores/analyst'
import { useSession } from '~/stores/session'
import { useStrips } from '~/stores/strips'
import { useTransport } from '~/stores/transport'

const store = useSession(),
  analyst = useAnalyst(),
  transport = useTransport(),
  strips = useStrips()
const mains = computed(() =>
  rows(store.session!, 'channel')
    .filter(c => c.role === 'main')
    .sort(byOrder)
)
const heard = computed(() => settings(store.session!).heardChannel)
const equal = ref(false)
const lufs = ref(new Map<string, number>())

async function level(): Promise<void> {
  const answer = await analyst.ask({ kind: 'loudness', channels: mains.value.map(m => m.id), range: analyst.range })
  if (!answer) {
    equal.value = false
    return
  }
  lufs.value = new Map(answer.lufs)
  const quietest = Math.min(...[...lufs.value.values()].filter(l => l > -70))
  transport.setTrims(answer.lufs.map(([id, l]) => [id, l > -70 ? quietest - l : 0]))
}
watch(equal, on => {
  if (on) void level()
  else if (transport.trims.size) transport.setTrims([])
})
watch(
  () => store.id,
  () => {
    equal.value = false
  }
)
</script>

<template>
  <div v-if="mains.length > 1" class="compare" role="group" aria-label="compare mains">
    <span class="caption">compare</span>
    <button
      v-for="m in mains"
      :key="m.id"
      class="plain main"
      :class="{ on: m.id === heard }"
      :aria-pressed="m.id === heard"
      :data-main="m.id"
      @click="strips.hear(m.id)"
    >
      {{ m.name }}<span v-if="equal && lufs.has(m.id)" class="num"> {{ dB(transport.trims.get(m.id) ?? 0) }} dB</span>
    </button>
    <el-checkbox v-model="equal" size="small" data-equal>equal loudness</el-checkbox>
    <span v-if="analyst.busy === 'loudness'" class="quiet">listening {{ Math.round(analyst.progress * 100) }} %</span>
    <span v-else class="caption">{{
      equal ? `measured from ${analyst.rangeText}` : 'h m goes from one to the next'
    }}</span>
  </div>
</template>

<style scoped>
.compare {
  display: flex;
  gap: 16px;
  align-items: center;
  height: 32px;
  padding: 0 16px;
  border-top: 1px solid var(--rule);
  background: var(--surface);
}
.main {
  border-bottom: 2px solid transparent;
}
.main .num {
  margin-left: 6px;
  font-size: 12px;
  color: var(--ink-2);
}
.main.on {
  border-bottom-color: var(--acting);
  font-weight: 500;
}
</style>

<script setup lang="ts">
// What steers a slot: its keys with their levels and cuts, the level that is there now, and a way to hear it.
import { computed } from 'vue'
import { rows } from '@nullet/core/session/session'
import type { Slot } from '@nullet/core/session/rows'
import { dB } from '~/words/format'
import { place } from '~/components/scale'
import { useGestures } from '~/stores/gestures'
import { useProbe } from '~/stores/probe'
import { useSession } from '~/stores/session'
import { useStrips } from '~/stores/strips'

const props = defineProps<{ slotRow: Slot }>()
const store = useSession(),
  strips = useStrips(),
  probe = useProbe(),
  gestures = useGestures()
const keys = computed(() => rows(store.session!, 'feed').filter(f => f.kind === 'key' && f.slot === props.slotRow.id))
const nameOf = (id: string | null) => store.session!.channel[id ?? '']?.name
const now = computed(() => probe.of(props.slotRow.id)?.keyDb ?? -Infinity)
const set = (fields: object) => store.apply('setSlot', { id: props.slotRow.id, fields })
async function level(id: string, db: number | null): Promise<void> {
  const levelDb = await strips.askDb('Level of the key', db)
  if (levelDb !== undefined) store.apply('setFeeds', { ids: [id], fields: { levelDb } })
}
</script>

<template>
  <div class="keys">
    <span class="caption">key</span>
    <span v-if="!keys.length" class="quiet">the channel itself</span>
    <span v-for="k in keys" :key="k.id" class="key"
      >{{ nameOf(k.from) }} <span class="caption">{{ k.tap }}</span>
      <button class="plain num" title="type a level" @click="level(k.id, k.levelDb)">{{ dB(k.levelDb) }}</button>
      <button
        class="plain"
        :aria-label="`remove the key from ${nameOf(k.from)}`"
        @click="store.apply('removeFeeds', { ids: [k.id] })"
      >
        ×
      </button></span
    >
    <button class="plain act" data-add-key @click="gestures.askKeyOf(slotRow.id)">key from…</button>
    <ParamNumber
      :parameter="{ name: 'low', label: 'low cut', unit: 'Hz', min: 10, max: 20000, initial: 10 }"
      :value="slotRow.keyLowCutHz"
      @done="v => set({ keyLowCutHz: v })"
    />
    <ParamNumber
      :parameter="{ name: 'high', label: 'high cut', unit: 'Hz', min: 20, max: 40000, initial: 20000 }"
      :value="slotRow.keyHighCutHz"
      @done="v => set({ keyHighCutHz: v })"
    />
    <span class="now"
      ><span class="meter" role="img" :aria-label="`level of the key ${dB(now)} dB`"
        ><i :style="{ transform: `scaleX(${place(now)})` }" /></span
      ><span class="num" data-key-level>{{ dB(now > -119 ? now : null) }}</span>
      <button
        class="plain act"
        :class="{ on: probe.keyHeard === slotRow.id }"
        :aria-pressed="probe.keyHeard === slotRow.id"
        data-hear-key
        @click="probe.hearKey(probe.keyHeard === slotRow.id ? null : slotRow.id)"
      >
        {{ probe.keyHeard === slotRow.id ? 'hearing the key' : 'hear the key' }}
      </button></span
    >
  </div>
</template>

<style scoped>
.keys {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-top: 8px;
  flex-wrap: wrap;
  max-width: 460px;
}
.key {
  color: var(--key);
}
.act {
  color: var(--acting);
}
.on {
  font-weight: 600;
}
.num {
  font-size: 12px;
}
.now {
  display: flex;
  gap: 10px;
  align-items: center;
  width: 100%;
}
.meter {
  width: 160px;
  height: 5px;
  background: var(--track);
  overflow: hidden;
}
.meter i {
  display: block;
  height: 100%;
  background: var(--key);
  transform-origin: 0 0;
}
</style>

<script setup lang="ts">
// What steers a slot: its keys with their levels and cuts, the level that is there now, and a way to hear it.
import { computed } from 'vue'
import { rows } from '@nullet/core/session/session'
import type { Slot } from '@nullet/core/session/rows'
import { GAIN } from '~/numbers/quantity'
import { dB } from '~/words/format'
import { levelShare } from '~/numbers/levelScale'
import { useGestures } from '~/stores/gestures'
import { useProbe } from '~/stores/probe'
import { useSession } from '~/stores/session'

const props = defineProps<{ slotRow: Slot }>()
const store = useSession(),
  probe = useProbe(),
  gestures = useGestures()
const keys = computed(() => rows(store.session!, 'feed').filter(f => f.kind === 'key' && f.slot === props.slotRow.id))
const nameOf = (id: string | null) => store.session!.channel[id ?? '']?.name
const now = computed(() => probe.of(props.slotRow.id)?.keyDb ?? -Infinity)
const set = (fields: object) => store.apply('setSlot', { id: props.slotRow.id, fields })
const CUTS = [
  { field: 'keyLowCutHz', quantity: { label: 'low cut of the key', unit: 'Hz', min: 10, max: 20000 } },
  { field: 'keyHighCutHz', quantity: { label: 'high cut of the key', unit: 'Hz', min: 20, max: 40000 } }
] as const
</script>

<template>
  <div class="keys">
    <span class="caption">key</span>
    <span v-if="!keys.length" class="quiet">the channel itself</span>
    <span v-for="k in keys" :key="k.id" class="key"
      >{{ nameOf(k.from) }} <span class="caption">{{ k.tap }}</span>
      <NumberField
        :quantity="{ ...GAIN, label: `level of the key from ${nameOf(k.from)}` }"
        :value="k.levelDb"
        @move="levelDb => store.preview('feed', [k.id], () => ({ levelDb }))"
        @done="levelDb => store.apply('setFeeds', { ids: [k.id], fields: { levelDb } })"
      />
      <button
        class="plain"
        :aria-label="`remove the key from ${nameOf(k.from)}`"
        @click="store.apply('removeFeeds', { ids: [k.id] })"
      >
        ×
      </button></span
    >
    <button class="plain act" data-add-key @click="gestures.askKeyOf(slotRow.id)">key from…</button>
    <NumberField
      v-for="c in CUTS"
      :key="c.field"
      :quantity="{ ...c.quantity, law: 'ratio', off: true }"
      :value="slotRow[c.field]"
      :shown="slotRow[c.field] === null ? `${c.quantity.label.replace(' of the key', '')} off` : undefined"
      @move="v => store.preview('slot', [slotRow.id], () => ({ [c.field]: v }))"
      @done="v => set({ [c.field]: v })"
    />
    <span class="now"
      ><span class="meter" role="img" :aria-label="`level of the key ${dB(now)} dB`"
        ><i :style="{ transform: `scaleX(${levelShare(now)})` }" /></span
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

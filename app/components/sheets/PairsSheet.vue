<script setup lang="ts">
// Mono tracks whose names differ in a side alone: which of them become one stereo track, and what it is called.
import { computed, ref } from 'vue'
import { settings } from '@nullet/core/session/session'
import { plural, shortTime } from '~/words/format'
import { useSession } from '~/stores/session'
import { useTracks } from '~/stores/tracks'

const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  tracks = useTracks()
const list = ref(tracks.pairs.map(p => ({ ...p, on: true })))
const chosen = computed(() => list.value.filter(p => p.on && p.name.trim()))
const rate = settings(store.session!).sampleRate
const nameOf = (id: string) => store.session!.channel[id]?.name ?? ''
function lengths([left, right]: [number, number]): string {
  if (left === right) return `both ${shortTime(left, rate)}`
  const by = Math.abs(left - right)
  const shown = by < rate ? `${Math.round((by / rate) * 1000)} ms` : shortTime(by, rate)
  return `${left < right ? 'left' : 'right'} is ${shown} shorter`
}
function accept(): void {
  if (tracks.join(chosen.value.map(p => ({ ...p, name: p.name.trim() })))) emit('close')
}
</script>

<template>
  <p v-if="!list.length" class="quiet" data-nothing>
    No two mono tracks differ in their side alone, as “Pad L” and “Pad R” do. Any two can be joined from the selection:
    <kbd>l s</kbd>.
  </p>
  <template v-else>
    <p class="quiet">
      The left track stays, with its feeds and processors; the right one’s audio plays on its right leg. Nothing is
      copied, and <em>split into mono tracks</em> takes it apart again.
    </p>
    <div class="scroll list">
      <div v-for="p in list" :key="p.left" class="line" :data-pair="p.name">
        <el-checkbox v-model="p.on" :aria-label="`join ${nameOf(p.left)} and ${nameOf(p.right)}`" />
        <span class="clip" :title="`${nameOf(p.left)} + ${nameOf(p.right)}`"
          >{{ nameOf(p.left) }} <span class="quiet">+</span> {{ nameOf(p.right) }}</span
        >
        <el-input
          v-model="p.name"
          size="small"
          :disabled="!p.on"
          :aria-label="`name of ${nameOf(p.left)} and its pair`"
        />
        <span class="caption num" :class="{ differ: p.frames[0] !== p.frames[1] }">{{ lengths(p.frames) }}</span>
      </div>
    </div>
  </template>
  <SheetEnd
    :label="chosen.length ? `Make ${plural(chosen.length, 'stereo track', 'stereo tracks')}` : 'Make stereo tracks'"
    :disabled="!chosen.length"
    note="All of it is one undo."
    @close="emit('close')"
    @done="accept"
  />
</template>

<style scoped>
p {
  margin: 0 0 10px;
}
.list {
  max-height: 50vh;
}
.line {
  display: grid;
  grid-template-columns: 20px minmax(0, 1.3fr) minmax(0, 1fr) 150px;
  gap: 12px;
  align-items: center;
  height: 32px;
  padding-right: 8px;
}
.num {
  text-align: right;
}
.differ {
  color: var(--mind);
}
</style>

<script setup lang="ts">
// Tracks whose names differ in the number of their take alone: which of them become takes of one track.
import { computed, ref } from 'vue'
import { plural } from '~/words/format'
import { useSession } from '~/stores/session'
import { useTakes } from '~/stores/takes'

const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  takes = useTakes()
const list = ref(takes.stacks.map(s => ({ ...s, on: true })))
const chosen = computed(() => list.value.filter(s => s.on && s.name.trim()))
const nameOf = (id: string) => store.session!.channel[id]?.name ?? ''
const namesOf = (tracks: { track: string }[]) => tracks.map(t => nameOf(t.track)).join(', ')
function accept(): void {
  if (takes.stack(chosen.value.map(({ name, tracks }) => ({ name: name.trim(), tracks })))) emit('close')
}
</script>

<template>
  <p v-if="!list.length" class="quiet" data-nothing>
    No tracks differ in the number of their take alone, as “Narrator take 1” and “Narrator take 2” do. Any tracks can be
    stacked from the selection: <kbd>t s</kbd>.
  </p>
  <template v-else>
    <p class="quiet">
      The first take’s track stays, with its feeds and processors; of the others the audio becomes takes of it. One take
      is heard at a time.
    </p>
    <div class="scroll list">
      <div v-for="s in list" :key="s.tracks[0]!.track" class="line" :data-stack="s.name">
        <el-checkbox v-model="s.on" :aria-label="`takes of ${s.name}`" />
        <span class="clip" :title="namesOf(s.tracks)">{{ namesOf(s.tracks) }}</span>
        <el-input v-model="s.name" size="small" maxlength="300" :disabled="!s.on" :aria-label="`name of the track`" />
        <span class="caption num">{{ plural(s.tracks.length, 'take', 'takes') }}</span>
      </div>
    </div>
  </template>
  <SheetEnd
    :label="chosen.length ? `Stack ${plural(chosen.length, 'track', 'tracks')}` : 'Stack takes'"
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
  grid-template-columns: 20px minmax(0, 1.3fr) minmax(0, 1fr) 70px;
  gap: 12px;
  align-items: center;
  height: 32px;
  padding-right: 8px;
}
.num {
  text-align: right;
}
</style>

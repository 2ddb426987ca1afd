<script setup lang="ts">
// Files on their way in: one line for all of them, each by itself on demand; what could not come in stays until it is
// seen.
import { computed, ref } from 'vue'
import { plural } from '~/words/format'
import { useImports } from '~/stores/imports'

const imports = useImports()
const isOpen = ref(false)
/** So few are shown without asking. */
const FEW = 3
const told = computed(() =>
  isOpen.value || imports.list.length <= FEW
    ? imports.list
    : imports.list.filter(i => i.message || i.state === 'failed')
)
const left = computed(() => {
  const s = imports.secondsLeft
  return s === undefined ? '' : s < 60 ? `${Math.ceil(s)} s left` : `${Math.ceil(s / 60)} min left`
})
const done = computed(() => imports.list.length - imports.open.length)
</script>

<template>
  <section class="coming" aria-label="files on their way in">
    <p v-if="imports.open.length" class="all">
      <span>{{ done }} of {{ plural(imports.list.length, 'file', 'files') }}</span>
      <el-progress :percentage="Math.round(imports.share * 100)" :stroke-width="4" />
      <span class="quiet num">{{ left }}</span>
      <button v-if="imports.list.length > FEW" class="plain quiet" :aria-expanded="isOpen" @click="isOpen = !isOpen">
        {{ isOpen ? 'fold' : 'each file' }}
      </button>
      <button class="plain act" data-stop-all @click="imports.stopAll">stop all</button>
    </p>
    <ul class="scroll">
      <li v-for="i in told" :key="i.id" :class="i.state">
        <span class="clip">{{ i.file.name }}</span>
        <el-progress
          v-if="i.state === 'coming' || i.state === 'waiting'"
          :percentage="Math.round(i.share * 100)"
          :stroke-width="4"
        />
        <span v-if="i.message" class="why">{{ i.message }}</span>
        <el-button v-if="i.canSplit" size="small" @click="imports.split(i.id)">Bring in as mono tracks</el-button>
        <button class="plain quiet" @click="imports.stop(i.id)">{{ i.state === 'coming' ? 'stop' : 'dismiss' }}</button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.coming {
  padding: 6px 16px;
  border-bottom: 1px solid var(--rule);
  background: var(--surface);
}
.all {
  display: grid;
  grid-template-columns: 120px 1fr 90px auto auto;
  gap: 12px;
  align-items: center;
  margin: 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 160px;
}
li {
  display: grid;
  grid-template-columns: 220px 1fr auto auto;
  gap: 12px;
  align-items: center;
  padding: 3px 0;
}
.act {
  color: var(--acting);
}
.why {
  color: var(--wrong);
  overflow-wrap: anywhere;
}
</style>

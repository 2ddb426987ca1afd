<script setup lang="ts">
// The table by which families are guessed from names: the session's own once it is changed.
import { computed, ref } from 'vue'
import { familyTable, guessFamily } from '@nullet/core/session/families'
import { FAMILIES } from '@nullet/core/session/familyTable'
import type { FamilyRule } from '@nullet/core/session/rows'
import { rows } from '@nullet/core/session/session'
import { HUES } from '~/stores/names'
import { useSession } from '~/stores/session'

const emit = defineEmits<{ close: [] }>()
const store = useSession()
const list = ref(
  familyTable(store.session!).map(f => ({
    family: f.family,
    colour: f.colour,
    words: f.words.join(', '),
    within: f.within ?? ''
  }))
)
const again = ref(true)
const rules = computed((): FamilyRule[] =>
  list.value
    .filter(f => f.family.trim())
    .map(f => ({
      family: f.family.trim(),
      colour: f.colour,
      words: f.words
        .split(',')
        .map(w => w.trim().toLowerCase())
        .filter(Boolean),
      ...(f.within.trim() && f.within !== f.family ? { within: f.within.trim() } : {})
    }))
)
const wholes = computed(() => list.value.filter(f => !f.within && f.family.trim()).map(f => f.family))
/** Tracks whose family was never set by hand. */
const open = computed(() =>
  rows(store.session!, 'channel').filter(c => c.kind === 'track' && (c.familyGuessed || !c.family))
)
const known = computed(() => open.value.filter(c => guessFamily(c.name, rules.value).family).length)

function keep(): void {
  const same = JSON.stringify(rules.value) === JSON.stringify(FAMILIES)
  const edits: { verb: string; args: unknown }[] = [
    { verb: 'setSession', args: { families: same ? null : rules.value } }
  ]
  if (again.value) {
    for (const c of open.value) {
      const guess = guessFamily(c.name, rules.value)
      if (guess.family !== c.family)
        edits.push({
          verb: 'setChannels',
          args: {
            ids: [c.id],
            fields: { family: guess.family, familyGuessed: guess.family !== '', colour: guess.colour }
          }
        })
    }
  }
  if (store.apply('several', { label: 'Words for families', edits })) emit('close')
}
</script>

<template>
  <p class="quiet">
    A track belongs to a family when its name holds one of its words. The longest run of words decides; a word with ?
    after it answers only where no other does, one with ! before all others. Where two families answer alike, none is
    taken. A family may be part of another: its submix gathers both.
  </p>
  <div class="scroll table">
    <div v-for="(f, i) in list" :key="i" class="line">
      <el-select v-model="f.colour" size="small" class="colour" :aria-label="`colour of ${f.family}`"
        ><template #prefix><i class="hue" :style="{ background: `var(--hue-${f.colour})` }" /></template
        ><el-option v-for="(h, n) in HUES" :key="n" :value="n" :label="h"
      /></el-select>
      <el-input v-model="f.family" size="small" placeholder="family" :aria-label="`name of family ${i + 1}`" />
      <el-input
        v-model="f.words"
        size="small"
        placeholder="words, with commas between"
        :aria-label="`words of ${f.family}`"
      />
      <el-select
        v-model="f.within"
        size="small"
        clearable
        placeholder="by itself"
        :aria-label="`what ${f.family} is part of`"
        ><el-option v-for="w in wholes.filter(w => w !== f.family)" :key="w" :value="w" :label="`part of ${w}`"
      /></el-select>
      <button class="plain quiet" :aria-label="`remove ${f.family}`" @click="list.splice(i, 1)">×</button>
    </div>
  </div>
  <div class="under">
    <button class="plain act" @click="list.push({ family: '', colour: 6, words: '', within: '' })">add a family</button
    ><el-checkbox v-model="again" size="small"
      >guess again for the {{ open.length }} tracks not set by hand: {{ known }} known</el-checkbox
    >
  </div>
  <SheetEnd label="Keep the words" @close="emit('close')" @done="keep" />
</template>

<style scoped>
p {
  margin: 0 0 10px;
}
.table {
  max-height: 46vh;
}
.line {
  display: grid;
  grid-template-columns: 104px 116px 1fr 120px 16px;
  gap: 8px;
  align-items: center;
  padding: 3px 8px 3px 0;
}
.hue {
  width: 12px;
  height: 12px;
  border-radius: 2px;
  display: block;
}
.under {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin-top: 8px;
}
.act {
  color: var(--acting);
}
</style>

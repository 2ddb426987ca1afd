<script setup lang="ts">
// The feeds as a table for a spreadsheet, and back: what a file would change is shown before anything is.
import { computed, ref, shallowRef } from 'vue'
import { planCrosspointsCsv, writeCrosspointsCsv } from '@nullet/core/formats/crosspointsCsv'
import { settings } from '@nullet/core/session/session'
import { useGestures } from '~/stores/gestures'
import { newId } from '~/stores/ids'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'
import { takeOut } from './takeOut'

const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  notices = useNotices(),
  gestures = useGestures()
const text = shallowRef<string | null>(null)
const file = ref(''),
  remove = ref(false),
  picker = ref<HTMLInputElement>()
const MOST_SHOWN = 200

const plan = computed(() => {
  if (text.value === null) return null
  try {
    return { ...planCrosspointsCsv(store.session!, text.value, { remove: remove.value, newId }), wrong: '' }
  } catch (error) {
    return { changes: [], problems: [], unchanged: 0, edits: [], wrong: (error as Error).message }
  }
})
const edit = computed(() =>
  plan.value?.edits.length
    ? { verb: 'several', args: { label: `Crosspoints from ${file.value}`.slice(0, 300), edits: plan.value.edits } }
    : null
)
/** A circle, for example, shows only when all of it is tried. */
const refused = computed(() => (edit.value && !plan.value!.problems.length ? gestures.refusal(edit.value) : undefined))
const counts = computed(() =>
  (['add', 'change', 'remove'] as const).map(what => ({
    what,
    n: plan.value?.changes.filter(c => c.what === what).length ?? 0
  }))
)
const SIGNS = { add: '+', change: '~', remove: '−' }

async function read(e: Event): Promise<void> {
  const chosen = (e.target as HTMLInputElement).files?.[0]
  if (!chosen) return
  file.value = chosen.name
  text.value = await chosen.text()
}
function out(): void {
  takeOut(`${settings(store.session!).name} crosspoints.csv`, 'text/csv', writeCrosspointsCsv(store.session!))
}
function apply(): void {
  if (!edit.value || !store.apply(edit.value.verb, edit.value.args)) return
  notices.tell(`${plan.value!.changes.length} feeds changed from ${file.value}.`, store.thisUndo())
  emit('close')
}
</script>

<template>
  <div class="do">
    <el-button data-csv-out @click="out">Save as CSV</el-button>
    <el-button @click="picker?.click()">Bring in a CSV…</el-button>
    <input ref="picker" type="file" accept=".csv,text/csv" hidden data-csv @change="read" />
    <span class="caption">one line a feed: from, feed, to, tap, level, pan, muted</span>
  </div>
  <template v-if="plan">
    <p v-if="plan.wrong" class="wrong" role="alert">{{ file }}: {{ plan.wrong }}</p>
    <template v-else>
      <p class="sum" data-sum>
        <strong class="clip">{{ file }}</strong><span
          >{{ counts.map(c => `${c.n} to ${c.what}`).join(', ') }}, {{ plan.unchanged }} as they are</span
        >
      </p>
      <el-checkbox v-model="remove" size="small">remove feeds that the file does not hold</el-checkbox>
      <p v-if="refused" class="wrong" role="alert">{{ refused }}</p>
      <ul v-if="plan.problems.length" class="scroll wrong" data-problems>
        <li v-for="p in plan.problems" :key="p.line">line {{ p.line }}: {{ p.text }}</li>
      </ul>
      <ul class="scroll changes">
        <li v-for="(c, i) in plan.changes.slice(0, MOST_SHOWN)" :key="i" :class="c.what">
          <span class="num">{{ SIGNS[c.what] }}</span> {{ c.text }}
        </li>
        <li v-if="plan.changes.length > MOST_SHOWN" class="quiet">and {{ plan.changes.length - MOST_SHOWN }} more</li>
      </ul>
    </template>
  </template>
  <SheetEnd
    label="Write the crosspoints"
    :disabled="!edit || !!refused || !!plan?.problems.length"
    :note="plan?.problems.length ? 'Nothing is applied while a line cannot be understood.' : ''"
    @close="emit('close')"
    @done="apply"
  />
</template>

<style scoped>
.do {
  display: flex;
  gap: 6px;
  align-items: center;
}
.do .caption {
  margin-left: 10px;
}
.sum {
  display: flex;
  gap: 12px;
  margin: 14px 0 4px;
}
.wrong {
  color: var(--wrong);
}
ul {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  max-height: 26vh;
  font-size: 12px;
}
li {
  padding: 1px 0;
  overflow-wrap: anywhere;
}
.add .num {
  color: var(--signal);
}
.remove .num {
  color: var(--wrong);
}
.change .num {
  color: var(--acting);
}
</style>

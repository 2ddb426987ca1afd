<script setup lang="ts">
// Gain from what feeds a bus into the bus, or back. What follows is listed, and the null is measured before it is done.
import { computed, ref, shallowRef, watch } from 'vue'
import { applyEdit } from '@nullet/core/edits/apply'
import type { Feed, Slot } from '@nullet/core/session/rows'
import { slotLabel } from '@nullet/core/processors/table'
import { byOrder, rows } from '@nullet/core/session/session'
import { dB } from '~/words/format'
import { useAnalyst } from '~/stores/analyst'
import { useNotices } from '~/stores/notices'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'

const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  selection = useSelection(),
  analyst = useAnalyst(),
  notices = useNotices()
const buses = computed(() =>
  rows(store.session!, 'channel')
    .filter(c => c.kind === 'bus')
    .sort(byOrder)
)
const focused = store.session!.channel[selection.focused ?? '']
const bus = ref(
  focused?.kind === 'bus'
    ? focused.id
    : (store.network!.next(focused?.id ?? '').find(f => f.kind === 'main')?.to ?? buses.value[0]?.id ?? '')
)
const byDb = ref(3)
const into = ref<'level' | 'trim'>('level')
const residual = shallowRef<{ peakDb: number; rmsDb: number; signalDb: number } | null>(null)
const edit = computed(() => ({ verb: 'moveGain', args: { bus: bus.value, byDb: byDb.value, into: into.value } }))
const outcome = computed(() => {
  if (!bus.value || !byDb.value) return { changes: [], refused: '' }
  try {
    return { changes: applyEdit(store.session!, edit.value).changes, refused: '' }
  } catch (error) {
    return { changes: [], refused: (error as Error).message }
  }
})
const name = (id: string | null) => store.session!.channel[id ?? '']?.name ?? ''
/** Every change in words: what, from, to. */
const lines = computed(() =>
  outcome.value.changes.flatMap(({ table, before, after }) => {
    const a = before as Record<string, unknown>,
      b = after as Record<string, unknown>
    const fields = Object.keys(b).filter(k => JSON.stringify(a[k]) !== JSON.stringify(b[k]))
    return fields.flatMap((k): { what: string; from: string; to: string }[] => {
      if (table === 'slot') {
        const slot = after as Slot
        return Object.keys(slot.params)
          .filter(p => slot.params[p] !== (before as Slot).params[p])
          .map(p => ({
            what: `threshold of ${slotLabel(slot.processor).toLowerCase()} on ${name(slot.channel)}`,
            from: dB(((before as Slot).params[p] as number) ?? 0),
            to: dB(slot.params[p] as number)
          }))
      }
      const feed = after as Feed
      const what =
        table === 'feed'
          ? `${feed.kind} from ${name(feed.from)}`
          : table === 'channel'
            ? `${k === 'trimDb' ? 'trim' : 'level'} of ${b.name as string}`
            : `${k} of ${b.name as string}`
      return [{ what, from: dB(a[k] as number), to: dB(b[k] as number) }]
    })
  })
)
watch([edit, () => store.session], () => {
  residual.value = null
})

async function measure(): Promise<void> {
  if (analyst.heard)
    residual.value = await analyst.ask({ kind: 'null', edit: edit.value, heard: analyst.heard, range: analyst.range })
}
const nullText = computed(() =>
  !residual.value
    ? ''
    : residual.value.peakDb === -Infinity
      ? 'identical'
      : `${dB(residual.value.peakDb)} dBFS peak, ${dB(residual.value.rmsDb)} RMS under ${dB(residual.value.signalDb)}`
)
function move(): void {
  if (!store.apply(edit.value.verb, edit.value.args)) return
  notices.tell(`${dB(byDb.value)} dB moved${residual.value ? `; null ${nullText.value}` : ''}.`, store.thisUndo())
  emit('close')
}
</script>

<template>
  <div class="form">
    <label>bus</label
    ><el-select v-model="bus" filterable aria-label="bus"
      ><el-option v-for="b in buses" :key="b.id" :value="b.id" :label="b.name"
    /></el-select>
    <label>by</label>
    <div class="row">
      <NumberField
        :quantity="{ label: 'by how many dB', unit: 'dB', min: -40, max: 40, initial: 0 }"
        :value="byDb"
        @move="v => (byDb = v ?? 0)"
        @done="v => (byDb = v ?? 0)"
      /><span class="caption">dB out of what feeds it, into its</span>
      <el-radio-group v-model="into" size="small" aria-label="into"
        ><el-radio-button value="level">level</el-radio-button
        ><el-radio-button value="trim">trim</el-radio-button></el-radio-group
      >
    </div>
  </div>
  <p v-if="outcome.refused" class="wrong" role="alert">{{ outcome.refused }}</p>
  <ul v-else class="scroll">
    <li v-for="(l, i) in lines" :key="i">
      <span class="clip">{{ l.what }}</span><span class="num">{{ l.from }}</span
      ><span class="quiet">→</span><span class="num">{{ l.to }}</span>
    </li>
  </ul>
  <div class="null">
    <el-button
      size="small"
      :disabled="!!outcome.refused || !lines.length || !analyst.heard"
      :loading="analyst.busy === 'null'"
      data-null
      @click="measure"
      >Measure the null</el-button
    >
    <span v-if="analyst.busy === 'null'" class="num">{{ Math.round(analyst.progress * 100) }} %</span>
    <span v-else-if="residual" class="num good" data-residual>{{ nullText }}</span>
    <span v-else class="caption">what is heard before, less what is heard after, over {{ analyst.rangeText }}</span>
  </div>
  <SheetEnd
    label="Move the gain"
    :disabled="!!outcome.refused || !lines.length"
    note="Thresholds, sends, keys and loops follow."
    @close="
      () => {
        analyst.stop()
        emit('close')
      }
    "
    @done="move"
  />
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: 50px 1fr;
  gap: 10px 16px;
  align-items: center;
}
.row {
  display: flex;
  gap: 10px;
  align-items: center;
}
ul {
  list-style: none;
  margin: 12px 0 0;
  padding: 0;
  max-height: 30vh;
  font-size: 12px;
}
li {
  display: grid;
  grid-template-columns: 1fr 60px 16px 60px;
  gap: 8px;
  padding: 2px 8px 2px 0;
}
.null {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-top: 12px;
  min-height: 26px;
}
.good {
  color: var(--signal);
}
.wrong {
  color: var(--wrong);
}
</style>

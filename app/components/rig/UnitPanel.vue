<script setup lang="ts">
// A unit's panel: power, what it is, its settings.
import { computed, ref, watch } from 'vue'
import { unitSettings } from '@nullet/core/rig/unit'
import { UNITS } from '@nullet/core/rig/units'
import { rows } from '@nullet/core/session/session'
import type { Params } from '@nullet/core/session/rows'
import { useAsk } from '~/stores/ask'
import { useCompare } from '~/stores/compare'
import { useNotices } from '~/stores/notices'
import { dB } from '~/words/format'
import { useSession } from '~/stores/session'

const props = defineProps<{ id: string }>()
const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  ask = useAsk(),
  compare = useCompare(),
  notices = useNotices()
const unit = computed(() => store.session!.unit[props.id]!)
const model = computed(() => UNITS[unit.value.model])
const values = computed<Params>(() => (model.value ? unitSettings(model.value, unit.value.settings) : {}))
const media = computed(() => rows(store.session!, 'medium').sort((a, b) => a.name.localeCompare(b.name)))
const percent = (p: number) => (p === 0 ? 'below 0.05 %' : `${p} %`)
/** As published: docs/units.md. */
const figures = computed(() => {
  const m = model.value!,
    f = m.figures
  return [
    `nominal ${dB(f.nominalDbu)} dBu`,
    m.clipDbu === Infinity ? 'does not clip' : `clips at ${dB(m.clipDbu)} dBu`,
    m.noiseDbu === -Infinity ? 'no noise' : `noise ${dB(m.noiseDbu)} dBu`,
    `distortion ${percent(f.distortion[0])}, 10 dB hotter ${percent(f.distortion[1])}`,
    ...(f.delayMs ? [`${f.delayMs} ms late`] : [])
  ].join(' · ')
})
/** Notes while they are written: they are stored when the field is left. */
const written = ref('')
watch(
  () => unit.value.notes,
  notes => (written.value = notes),
  { immediate: true }
)
async function rename(): Promise<void> {
  const name = await ask.ask({ title: 'Name of the unit', kind: 'text', act: 'Rename', initial: unit.value.name })
  if (name) store.apply('setUnit', { id: props.id, fields: { name } })
}
function remove(): void {
  const { name } = unit.value
  emit('close')
  if (store.apply('removeUnit', { id: props.id }))
    notices.tell(`${name} is out of the room, and its cables with it.`, store.thisUndo())
}
</script>

<template>
  <section class="unit">
    <PanelHead :title="unit.name" @close="emit('close')"
      ><el-switch
        v-if="!model?.passive"
        :model-value="unit.powered"
        active-text="on"
        inactive-text="off"
        :aria-label="`power of ${unit.name}`"
        @change="v => store.apply('setUnit', { id, fields: { powered: v } })"
    /></PanelHead>
    <p class="quiet">{{ model?.about }}</p>
    <p v-if="model && !model.plays" class="caption" data-figures>{{ figures }}</p>
    <label v-if="model?.plays" class="plays"
      ><span class="caption">plays</span>
      <el-select
        :model-value="unit.plays ?? ''"
        size="small"
        filterable
        placeholder="nothing yet"
        :aria-label="`what ${unit.name} plays`"
        data-plays
        @change="(plays: string) => store.apply('setUnit', { id, fields: { plays: plays || null } })"
        ><el-option value="" label="nothing" /><el-option
          v-for="m in media"
          :key="m.id"
          :value="m.id"
          :label="m.name" /></el-select
    ></label>
    <p v-if="compare.hides(id)" class="quiet">Its settings are hidden while it is compared blind.</p>
    <ParamField
      v-for="p in compare.hides(id) ? [] : (model?.settings ?? [])"
      :key="p.name"
      :parameter="p"
      :value="values[p.name]!"
      @move="v => store.preview('unit', [id], row => ({ settings: { ...(row.settings as Params), [p.name]: v } }))"
      @done="v => store.apply('setUnit', { id, fields: { settings: { [p.name]: v } } })"
    />
    <UnitPresets v-if="model" :id="id" />
    <el-checkbox
      :model-value="unit.inverts"
      @change="(v: unknown) => store.apply('setUnit', { id, fields: { inverts: !!v } })"
      >turns polarity</el-checkbox
    >
    <label class="notes"
      ><span class="caption">notes, for whoever sets it again</span
      ><el-input
        v-model="written"
        type="textarea"
        :autosize="{ minRows: 1, maxRows: 6 }"
        :maxlength="4000"
        size="small"
        placeholder="cabinet, microphone, who played it, what the knobs do not say"
        :aria-label="`notes of ${unit.name}`"
        @change="store.apply('setUnit', { id, fields: { notes: written } })"
    /></label>
    <UnitPhotos :id="id" />
    <div class="row">
      <button class="plain quiet" @click="rename">rename…</button><span class="space" /><button
        class="plain quiet"
        data-remove-unit
        @click="remove"
      >
        remove
      </button>
    </div>
    <hr class="rule" />
  </section>
</template>

<style scoped>
p {
  margin: 4px 0 10px;
}
.notes {
  display: grid;
  gap: 2px;
  margin: 10px 0 6px;
}
.plays {
  display: grid;
  grid-template-columns: 130px 1fr;
  gap: 10px;
  align-items: center;
  margin-bottom: 6px;
}
.row {
  display: flex;
  gap: 12px;
}
.space {
  flex: 1;
}
</style>

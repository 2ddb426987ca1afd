<script setup lang="ts">
// Settings of a unit under names: set, compared while playing, kept, removed; and switches that are to be put back.
import { computed } from 'vue'
import { settled, turnedSwitches, type Turned } from '@nullet/core/checks/putBack'
import { unitSettings } from '@nullet/core/rig/unit'
import { UNITS } from '@nullet/core/rig/units'
import { MOST_PRESETS } from '@nullet/core/session/rows'
import { presetSides, settingSide } from '~/session/compareSides'
import { useAsk } from '~/stores/ask'
import { useCompare } from '~/stores/compare'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'

const props = defineProps<{ id: string }>()
const store = useSession(),
  ask = useAsk(),
  compare = useCompare(),
  notices = useNotices()
const unit = computed(() => store.session!.unit[props.id]!)
const presets = computed(() =>
  unit.value.presets.map(preset => ({
    preset,
    on: settingSide(store.session!, props.id, preset.name, preset.settings).isHeard(store.session!)
  }))
)
const canCompare = computed(() => presetSides(store.session!, props.id).length > 1)
const turned = computed(() => turnedSwitches(unit.value))
const set = (fields: object) => store.apply('setUnit', { id: props.id, fields })
async function keep(): Promise<void> {
  const name = await ask.ask({ title: 'Keep these settings as…', kind: 'text', act: 'Keep' })
  if (!name) return
  const settings = unitSettings(UNITS[unit.value.model]!, unit.value.settings)
  const others = unit.value.presets.filter(p => p.name !== name)
  if (others.length >= MOST_PRESETS) notices.tell(`A unit keeps ${MOST_PRESETS} presets: remove one first.`)
  else set({ presets: [...others, { name, settings }] })
}
function remove(name: string): void {
  if (set({ presets: unit.value.presets.filter(p => p.name !== name) }))
    notices.tell(`“${name}” is removed.`, store.thisUndo())
}
function settle(back: readonly Turned[]): void {
  const edit = settled(unit.value, back)
  store.apply(edit.verb, edit.args)
}
</script>

<template>
  <p v-for="t in turned" :key="t.name" class="mind" data-put-back>
    {{ t.label }} was turned for a re-amp; before it was {{ t.was }}.
    <button class="plain act" @click="settle(turned)">put it back</button>
    <button class="plain quiet" @click="settle([])">leave it so</button>
  </p>
  <div class="presets">
    <span class="caption">presets</span>
    <span v-for="p in presets" :key="p.preset.name" class="one" :class="{ on: p.on && !compare.hides(id) }">
      <button class="plain" :aria-pressed="p.on && !compare.hides(id)" @click="set({ settings: p.preset.settings })">
        {{ p.preset.name }}
      </button>
      <button class="plain quiet" :aria-label="`remove preset ${p.preset.name}`" @click="remove(p.preset.name)">
        ×
      </button>
    </span>
    <button class="plain act" data-keep-preset @click="keep">keep as…</button>
    <button
      v-if="canCompare"
      class="plain act"
      title="each of them while it plays, equally loud"
      data-compare-presets
      @click="compare.beginPresets(id)"
    >
      compare all
    </button>
  </div>
  <CompareSides :ids="[id]" />
</template>

<style scoped>
p {
  margin: 4px 0;
}
.presets {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: baseline;
  margin: 6px 0;
}
.one {
  display: inline-flex;
  gap: 3px;
  padding: 0 6px;
  border: 1px solid var(--rule);
  border-radius: var(--radius);
}
.one.on {
  border-color: var(--signal);
  color: var(--signal);
}
.act {
  color: var(--acting);
}
p button + button {
  margin-left: 8px;
}
</style>

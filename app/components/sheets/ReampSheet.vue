<script setup lang="ts">
// A recorded DI through a unit and back onto a track of its own, in one step.
import { computed, ref } from 'vue'
import { portDbu } from '@nullet/core/graph/portDbu'
import { reampEdit, reampWays, voltageDb, whatIsMissing } from '@nullet/core/propose/reamp'
import { byOrder, rows, settings } from '@nullet/core/session/session'
import { dB } from '~/words/format'
import { useGestures } from '~/stores/gestures'
import { newId, orderAtEnd } from '~/stores/ids'
import { useNotices } from '~/stores/notices'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'

const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  shell = useShell(),
  selection = useSelection(),
  gestures = useGestures(),
  notices = useNotices()
const portName = (id: string) => store.session!.port[id]?.name ?? id
const rigs = computed(() => rows(store.session!, 'rig').sort(byOrder))
const rig = ref(settings(store.session!).rig ?? rigs.value[0]?.id ?? '')
const tracks = computed(() =>
  rows(store.session!, 'channel')
    .filter(c => c.kind === 'track' && !c.parked)
    .sort(byOrder)
)
const focused = store.session!.channel[selection.focused ?? '']
const track = ref(focused?.kind === 'track' ? focused.id : (tracks.value[0]?.id ?? ''))
const ways = computed(() => (rig.value ? reampWays(store.session!, rig.value, track.value) : []))
const missing = computed(() => (rig.value ? whatIsMissing(store.session!, rig.value, ways.value) : null))
const references = computed(() => tracks.value.filter(t => t.id !== track.value))
const out = ref('')
const way = computed(() => ways.value.find(w => w.out === out.value && !w.refused) ?? ways.value.find(w => !w.refused))
/** What can be used first; what cannot for the same reason is one line. */
const listed = computed(() => {
  const groups = Map.groupBy(ways.value, w => (w.refused ? `${w.through}: ${w.refused}` : w.out))
  return [...groups.values()]
    .map(group => {
      const outs = group.map(w => portName(w.out)),
        [first] = group
      const from = outs.length > 2 ? `${outs[0]} … ${outs.at(-1)}` : outs.join(', ')
      return { ...first!, ports: `${from} → ${first!.ins.map(portName).join(', ') || 'nowhere'}` }
    })
    .sort((a, b) => Number(!!a.refused) - Number(!!b.refused))
})
const typed = ref('')
const di = computed(() => store.session!.channel[track.value])
const name = computed(() => typed.value.trim() || `${di.value?.name ?? ''}, ${way.value?.through ?? ''}`)
const muteDi = ref(true)
/** The processed sound that was recorded with the DI, if there is one. */
const reference = ref('')
/** As the track has it, until it is told otherwise here. */
const told = ref<{ track: string; dbu: number | null } | null>(null)
const sourceDbu = computed(() => (told.value?.track === track.value ? told.value.dbu : (di.value?.sourceDbu ?? null)))
const edit = computed(
  () =>
    way.value &&
    di.value &&
    reampEdit(store.session!, {
      track: track.value,
      way: way.value,
      name: name.value,
      muteDi: muteDi.value,
      sourceDbu: sourceDbu.value,
      reference: reference.value || null,
      newId,
      order: orderAtEnd(rows(store.session!, 'channel'))
    })
)
const refused = computed(() => (edit.value ? gestures.refusal(edit.value) : undefined))
const mains = computed(() =>
  rows(store.session!, 'feed').flatMap(f => (f.kind === 'main' && f.from === track.value ? [f.to] : []))
)
/** What is going to be, in the order of the sound. */
const steps = computed(() => {
  const w = way.value
  if (!w || !di.value) return []
  const goals = mains.value.map(id => `“${store.session!.channel[id]?.name}”`).join(', ')
  return [
    `“${di.value.name}”, as it was recorded (its input tap: no slot, fader or mute), mono, to ${portName(w.out)}`,
    sourceDbu.value === null
      ? 'at 0 dB: what its 0 dBFS was at the DI is not known, so the unit may be driven harder or softer than then'
      : `at ${dB(voltageDb(store.session!, w.out, sourceDbu.value))} dB, the voltage it was recorded at: its 0 dBFS was ${dB(sourceDbu.value)} dBu, that of ${portName(w.out)} is ${dB(portDbu(store.session!, w.out))} dBu`,
    `through ${w.through}${w.dead?.fixes.length ? `: ${w.dead.reason}; ${w.dead.fixes[0]!.label.toLowerCase()}` : ''}`,
    `back at ${w.ins.map(portName).join(' and ')} onto a new track “${name.value}”, ${w.ins.length === 2 ? 'stereo' : 'mono'}`,
    goals ? `that track goes to ${goals}, like the DI` : 'that track goes nowhere yet, like the DI',
    muteDi.value
      ? `“${di.value.name}” itself is muted: it is not heard beside its amplifier`
      : `“${di.value.name}” itself is heard as well`
  ]
})
function make(): void {
  if (!edit.value || !store.apply(edit.value.verb, edit.value.args)) return
  notices.tell(
    `“${di.value!.name}” goes through ${way.value!.through}. Ping “${name.value}” in the Rig view, then print it.`,
    store.thisUndo()
  )
  emit('close')
}
</script>

<template>
  <p v-if="!rigs.length" class="quiet">
    There is no rig yet. <button class="plain act" @click="shell.sheet = 'rig'">Describe a rig…</button>
  </p>
  <template v-else>
    <div class="fields">
      <label for="reamp-track">the DI</label>
      <el-select id="reamp-track" v-model="track" size="small" filterable aria-label="the DI"
        ><el-option v-for="t in tracks" :key="t.id" :value="t.id" :label="t.name"
      /></el-select>
      <template v-if="rigs.length > 1"
        ><label for="reamp-rig">rig</label>
        <el-select id="reamp-rig" v-model="rig" size="small" aria-label="rig"
          ><el-option v-for="r in rigs" :key="r.id" :value="r.id" :label="r.name" /></el-select
      ></template>
    </div>
    <div class="ways" role="radiogroup" aria-label="through">
      <label v-for="w in listed" :key="w.out" :class="{ on: way?.out === w.out, not: w.refused }" :data-way="w.through">
        <input
          type="radio"
          name="way"
          :checked="way?.out === w.out"
          :disabled="!!w.refused"
          @change="out = w.out"
        /><span
          ><b>{{ w.through }}</b
          ><span class="num quiet"> {{ w.ports }}</span
          ><br v-if="w.refused || w.dead" /><span v-if="w.refused" class="mind">{{ w.refused }}</span
          ><span v-else-if="w.dead" class="mind">{{ w.dead.reason }}</span></span
        >
      </label>
    </div>
    <p v-if="missing" class="wrong" role="alert">{{ missing }}</p>
    <template v-else>
      <div class="fields">
        <label for="reamp-name">new track</label>
        <el-input id="reamp-name" v-model="typed" size="small" maxlength="200" :placeholder="name" />
        <span>0 dBFS was</span
        ><span class="voltage"
          ><NumberField
            :quantity="{ label: 'what 0 dBFS of the DI was, in dBu', min: -60, max: 40, initial: 12 }"
            :value="sourceDbu"
            :shown="sourceDbu === null ? 'not known' : undefined"
            @done="dbu => (told = { track, dbu })"
          /><span class="caption">dBu at the DI</span><span class="space" /><el-checkbox v-model="muteDi"
            >mute the DI itself</el-checkbox
          ></span
        >
        <label for="reamp-reference">reference</label>
        <el-select
          id="reamp-reference"
          v-model="reference"
          size="small"
          filterable
          clearable
          placeholder="none: the processed sound that was recorded with the DI"
          aria-label="reference"
          ><el-option v-for="t in references" :key="t.id" :value="t.id" :label="t.name"
        /></el-select>
      </div>
      <ol class="steps">
        <li v-for="s in steps" :key="s">{{ s }}</li>
      </ol>
      <p v-if="refused" class="wrong" role="alert">{{ refused }}</p>
    </template>
    <SheetEnd
      label="Re-amp it"
      :disabled="!edit || !!refused"
      note="All of it is one undo."
      @close="emit('close')"
      @done="make"
    />
  </template>
</template>

<style scoped>
.space {
  flex: 1;
}
.voltage {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.fields {
  display: grid;
  grid-template-columns: 80px 1fr;
  gap: 8px 12px;
  align-items: center;
}
.ways {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 4px;
  margin: 10px 0;
}
.ways label {
  display: flex;
  gap: 8px;
  align-items: flex-start;
  padding: 4px 10px;
  line-height: 1.35;
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  cursor: pointer;
}
.ways label.on {
  border-color: var(--acting);
  background: var(--acting-soft);
}
.ways label.not {
  cursor: default;
  color: var(--ink-2);
}
input[type='radio'] {
  accent-color: var(--acting);
  margin-top: 3px;
}
.ways .num {
  margin-left: 10px;
  font-size: 12px;
  white-space: normal;
}
.steps {
  margin: 8px 0 0;
  line-height: 1.35;
  padding-left: 18px;
}
.mind {
  color: var(--mind);
}
.wrong {
  color: var(--wrong);
}
.act {
  color: var(--acting);
}
</style>

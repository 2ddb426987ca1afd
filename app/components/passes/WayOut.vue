<script setup lang="ts">
// The way of one print: inside, or out through units and back by itself, with how they are set for it.
import { computed } from 'vue'
import type { Planned } from '~/session/printsPlan'
import { voltageDb, waysOut, type WayOut } from '@nullet/core/propose/reamp'
import { unitsAlong } from '@nullet/core/graph/cables'
import { unitSettings } from '@nullet/core/rig/unit'
import { UNITS } from '@nullet/core/rig/units'
import type { Params, Through } from '@nullet/core/session/rows'
import { byOrder, rows, settings } from '@nullet/core/session/session'
import { usePasses } from '~/stores/passes'
import { useSession } from '~/stores/session'

const props = defineProps<{ planned: Planned }>()
const store = useSession(),
  passes = usePasses()
const through = computed(() => props.planned.through)
const rig = computed(() => settings(store.session!).rig ?? rows(store.session!, 'rig').sort(byOrder)[0]?.id ?? '')
const ways = computed(() => waysOut(store.session!, rig.value))
const portName = (id: string) => store.session!.port[id]?.name ?? id
const names = (ids: readonly string[]) => ids.map(portName).join(' and ')
const keyOf = (outs: readonly string[]) => outs.join(' ')
const INSIDE = 'inside'
const chosen = computed(() => (through.value ? keyOf(through.value.outPorts) : INSIDE))
const labelOf = (w: WayOut) => `${w.through}, ${names(w.outs)} → ${names(w.ins) || 'nowhere'}`

function choose(key: string): void {
  const way = ways.value.find(w => keyOf(w.outs) === key)
  if (!way) return passes.set(props.planned.print, { through: null, tap: 'post', name: undefined })
  const channel = store.session!.channel[props.planned.source]!
  const made: Through = {
    // A recorded DI leaves before its slots, at the voltage that it came with; a bus as it is mixed.
    tap: channel.kind === 'track' ? 'input' : 'post',
    levelDb: channel.kind === 'track' ? voltageDb(store.session!, way.outs[0]!, channel.sourceDbu) : 0,
    outPorts: way.outs,
    inPorts: way.ins,
    settings: {},
    instead: {}
  }
  const tap = channel.kind === 'track' ? 'pre' : 'post'
  passes.set(props.planned.print, { through: made, tap, name: undefined, place: undefined })
}
const set = (fields: Partial<Through>) =>
  through.value && passes.set(props.planned.print, { through: { ...through.value, ...fields } })

/** Units along the way as the rig is wired, each with the one that stands there for this print. */
const units = computed(() => {
  const session = store.session!,
    way = through.value
  if (!way) return []
  return unitsAlong(session, way.outPorts)
    .toSorted(byOrder)
    .map(wired => {
      const unit = session.unit[way.instead[wired.id] ?? ''] ?? wired,
        model = UNITS[unit.model]
      const own = way.settings[unit.id] ?? {}
      const others = rows(session, 'unit').filter(
        o => o.id === wired.id || (o.rig === wired.rig && fits(o.model, wired.model))
      )
      return { wired, unit, model, own, values: model ? unitSettings(model, { ...unit.settings, ...own }) : {}, others }
    })
})
/** Has it the jacks that the other has? */
const fits = (model: string, other: string) => {
  const [a, b] = [UNITS[model], UNITS[other]]
  return !!a && !!b && a.inputs.length >= b.inputs.length && a.outputs.length >= b.outputs.length
}
function setting(unit: string, name: string, value: number | string): void {
  const all: Record<string, Params> = through.value!.settings
  set({ settings: { ...all, [unit]: { ...all[unit], [name]: value } } })
}
function asTheRig(unit: string): void {
  const { [unit]: _own, ...rest } = through.value!.settings
  set({ settings: rest })
}
function stand(wired: string, unit: string): void {
  const { [wired]: _before, ...rest } = through.value!.instead
  set({ instead: unit === wired ? rest : { ...rest, [wired]: unit } })
}
</script>

<template>
  <div class="out">
    <div class="fields">
      <span class="caption">way</span>
      <el-select
        :model-value="chosen"
        size="small"
        aria-label="way of this print"
        style="width: 320px"
        @change="choose"
      >
        <el-option :value="INSIDE" label="inside, as the session has it" />
        <el-option
          v-for="w in ways"
          :key="keyOf(w.outs)"
          :value="keyOf(w.outs)"
          :label="w.lacks ? `${labelOf(w)}: ${w.lacks}` : labelOf(w)"
          :disabled="w.lacks !== null"
        />
      </el-select>
      <template v-if="through">
        <span class="caption">leaves at</span>
        <TapSelect :tap="through.tap" label="where it leaves its source" @choose="tap => set({ tap })" />
        <span class="caption">at</span>
        <NumberField
          :quantity="{ label: 'level out', unit: 'dB', min: -60, max: 24, initial: 0 }"
          :value="through.levelDb"
          style="width: 90px"
          @done="v => set({ levelDb: v as number })"
        />
        <button class="plain act" data-try @click="passes.tryAgain(planned.print)">another try…</button>
      </template>
    </div>
    <p v-if="!through" class="quiet">
      Out by itself: nothing else of the mix is in the unit, one unit serves one print after the other, and tries become
      takes of one track.
    </p>
    <div v-for="u in units" :key="u.wired.id" class="unit" :data-unit="u.unit.id">
      <div class="who">
        <el-select
          v-if="u.others.length > 1"
          :model-value="u.unit.id"
          size="small"
          :aria-label="`unit in the place of ${u.wired.name}`"
          @change="(id: string) => stand(u.wired.id, id)"
          ><el-option
            v-for="o in u.others"
            :key="o.id"
            :value="o.id"
            :label="o.id === u.wired.id ? o.name : `${o.name}, in its place`"
        /></el-select>
        <b v-else>{{ u.unit.name }}</b>
        <span v-if="!u.model?.passive && !u.unit.powered" class="mind">is off</span>
        <button v-if="Object.keys(u.own).length" class="plain act" @click="asTheRig(u.unit.id)">
          as it stands now
        </button>
      </div>
      <div class="params">
        <ParamField
          v-for="p in u.model?.settings ?? []"
          :key="p.name"
          :parameter="p"
          :value="u.values[p.name]!"
          :class="{ own: p.name in u.own }"
          @done="v => setting(u.unit.id, p.name, v)"
        />
      </div>
    </div>
  </div>
</template>

<style scoped>
.out {
  padding: 4px 0 10px;
  display: grid;
  gap: 8px;
}
.fields {
  display: flex;
  align-items: center;
  gap: 10px;
  flex-wrap: wrap;
}
.unit {
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr);
  gap: 14px;
  align-items: start;
}
.who {
  display: grid;
  gap: 4px;
  justify-items: start;
}
.params {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 4px 18px;
}
.own {
  font-weight: 600;
}
.mind {
  color: var(--mind);
}
.act {
  color: var(--acting);
}
</style>

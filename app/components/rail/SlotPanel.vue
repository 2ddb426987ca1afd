<script setup lang="ts">
// An opened slot: state, mix, picture, parameters, keys.
import { computed } from 'vue'
import { goTo } from '~/stores/goTo'
import { BANDS } from '@nullet/core/processors/equaliser'
import { PRESETS } from '@nullet/core/processors/presets'
import { complete } from '@nullet/core/processors/processor'
import { LOOP, PROCESSORS, settingsOf, slotLabel } from '@nullet/core/processors/table'
import { settings } from '@nullet/core/session/session'
import type { Params } from '@nullet/core/session/rows'
import { SHARE } from '~/numbers/quantity'
import { CURVES, showsReduction } from './curves'
import { useCompare } from '~/stores/compare'
import { useGestures } from '~/stores/gestures'
import { useMovement } from '~/stores/movement'
import { useRides } from '~/stores/rides'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'

const props = defineProps<{ id: string }>()
const store = useSession(),
  shell = useShell(),
  gestures = useGestures(),
  compare = useCompare(),
  rides = useRides(),
  movement = useMovement()
const slot = computed(() => store.session!.slot[props.id]!)
const processor = computed(() => PROCESSORS[slot.value.processor])
const params = computed(() => (processor.value ? settingsOf(processor.value, slot.value.params) : {}))
const rate = computed(() => settings(store.session!).sampleRate)
const loop = computed(() => (slot.value.loop ? store.session!.loop[slot.value.loop] : undefined))
const parameter = (name: string) => processor.value!.parameters.find(p => p.name === name)!
const bands = computed(() =>
  Array.from({ length: BANDS }, (_, i) => i + 1).filter(i => params.value[`kind${i}`] !== 'off')
)
const plain = computed(
  () => processor.value?.parameters.filter(p => !p.medium && !/^(kind|hz|db|q)\d$/.test(p.name)) ?? []
)

const set = (fields: object) => store.apply('setSlot', { id: props.id, fields })
/** Written as a ride while riding, else shown until the hand lets go. */
function move(change: Params): void {
  if (rides.running())
    rides.hold(
      Object.entries(change).map(([field, value]) => ({
        target: { owner: 'slot' as const, row: props.id, field },
        value: value as number
      }))
    )
  else show(change)
}
const show = (change: Params) =>
  store.preview('slot', [props.id], row => ({ params: { ...(row.params as Params), ...change } }))
const done = (change: Params) => {
  if (rides.count) rides.finish()
  else set({ params: change })
}
function moveMix(v: number | null): void {
  if (rides.running()) rides.hold([{ target: { owner: 'slot', row: props.id, field: 'mix' }, value: v }])
  else store.preview('slot', [props.id], () => ({ mix: v }))
}
const follows = (field: string) => store.envelopes.has(`slot/${props.id}/${field}`)
function lookAt(field: string): void {
  movement.look(slot.value.channel, { owner: 'slot', row: props.id, field })
  shell.passesAs = 'time'
  void goTo(`/s/${store.id}/passes`)
}
function addBand(): void {
  const free = Array.from({ length: BANDS }, (_, i) => i + 1).find(i => params.value[`kind${i}`] === 'off')
  if (free) done({ [`kind${free}`]: 'bell', [`db${free}`]: 3 })
}
const presets = computed(() => PRESETS[slot.value.processor] ?? [])
/** What a preset leaves out goes to its initial value. */
function begin(name: string): void {
  const preset = presets.value.find(p => p.name === name)
  if (preset && processor.value) set({ params: complete(processor.value.parameters, preset.params) })
}
</script>

<template>
  <section class="panel">
    <div class="head">
      <strong class="clip">{{ loop ? `Loop: ${loop.name}` : slotLabel(slot.processor) }}</strong>
      <el-radio-group
        v-if="!compare.hides(id)"
        :model-value="slot.state"
        size="small"
        aria-label="slot state"
        @change="v => set({ state: v })"
      >
        <el-radio-button value="on">on</el-radio-button><el-radio-button value="bypassed">bypassed</el-radio-button
        ><el-radio-button value="off">off</el-radio-button>
      </el-radio-group>
      <span class="caption">mix</span
      ><NumberField
        bar
        class="mix"
        :quantity="{ ...SHARE, label: 'mix' }"
        :value="slot.mix"
        @move="moveMix"
        @done="v => (rides.count ? rides.finish() : set({ mix: v }))"
      />
      <span class="space" />
      <el-dropdown v-if="presets.length" trigger="click" :persistent="false" @command="begin"
        ><button class="plain quiet" data-presets>begin with…</button
        ><template #dropdown
          ><el-dropdown-menu
            ><el-dropdown-item v-for="p in presets" :key="p.name" :command="p.name">{{
              p.name
            }}</el-dropdown-item></el-dropdown-menu
          ></template
        ></el-dropdown
      >
      <button
        class="plain quiet"
        data-compare
        title="with and without it, at equal loudness"
        @click="compare.beginSlots([id])"
      >
        compare
      </button>
      <button class="plain quiet" data-move-slot @click="gestures.askMoveSlot(id, false)">move to…</button>
      <button v-if="!loop" class="plain quiet" data-copy-slot @click="gestures.askMoveSlot(id, true)">copy to…</button>
      <button
        class="plain quiet"
        @click="
          () => {
            shell.openSlot = null
            store.apply('removeSlot', { id })
          }
        "
      >
        remove
      </button>
      <button class="plain" aria-label="close the slot" @click="shell.openSlot = null">×</button>
    </div>
    <CompareSides :ids="[id]" />
    <p v-if="!processor && slot.processor !== LOOP" class="quiet">
      “{{ slot.processor }}” is not here. Audio passes untouched; its settings are kept as they came.
      <span v-for="[name, value] in Object.entries(slot.params)" :key="name" class="foreign" data-foreign
        >{{ name }} <b class="num">{{ value }}</b></span
      >
    </p>
    <LoopSlot v-else-if="loop" :loop="loop" />
    <div v-else-if="slot.processor === 'equaliser'" class="body">
      <EqualiserPicture :params="params" :rate="rate" :slot-id="id" @move="move" @done="done" />
      <div class="params">
        <div v-for="b in bands" :key="b" class="bandrow">
          <span class="num">{{ b }}</span>
          <el-select
            :model-value="params[`kind${b}`]"
            size="small"
            :aria-label="`kind of band ${b}`"
            @change="(v: string) => done({ [`kind${b}`]: v })"
            ><el-option v-for="k in parameter(`kind${b}`).choices" :key="k" :value="k" :label="k"
          /></el-select>
          <NumberField
            v-for="n in [`hz${b}`, `db${b}`, `q${b}`]"
            :key="n"
            :quantity="parameter(n)"
            :value="params[n] as number"
            @move="v => v === null || move({ [n]: v })"
            @done="v => v === null || done({ [n]: v })"
          />
        </div>
        <button v-if="bands.length < BANDS" class="plain act" @click="addBand">add a band</button>
        <div class="cuts">
          <ParamField
            v-for="p in plain"
            :key="p.name"
            :parameter="p"
            :value="params[p.name]!"
            :all="params"
            :follows="follows(p.name)"
            @follow="lookAt(p.name)"
            @move="v => move({ [p.name]: v })"
            @done="v => done({ [p.name]: v })"
          />
        </div>
      </div>
    </div>
    <div v-else class="body">
      <ResponsePicture v-if="slot.processor === 'convolution'" :params="params" :rate="rate" />
      <div v-if="CURVES[slot.processor] || processor?.keyed">
        <SpectraPicture v-if="slot.processor === 'spectral'" :params="params" :slot-id="id" />
        <DynamicsPicture
          v-if="CURVES[slot.processor] || showsReduction(slot.processor)"
          :processor="slot.processor"
          :params="params"
          :slot-id="id"
        />
        <KeyLine v-if="processor?.keyed" :slot-row="slot" />
      </div>
      <div class="params two">
        <ResponseField
          v-if="slot.processor === 'convolution'"
          :value="params.response as string"
          :slot-id="id"
          @done="v => done({ response: v })"
        /><ParamField
          v-for="p in plain"
          :key="p.name"
          :parameter="p"
          :value="params[p.name]!"
          :all="params"
          :follows="follows(p.name)"
          @follow="lookAt(p.name)"
          @move="v => move({ [p.name]: v })"
          @done="v => done({ [p.name]: v })"
        />
      </div>
    </div>
  </section>
</template>

<style scoped>
.foreign {
  display: inline-block;
  margin-left: 14px;
}
.panel {
  padding: 10px 16px;
  border-bottom: 1px solid var(--rule);
  background: var(--ground);
}
.head {
  display: flex;
  align-items: center;
  gap: 12px;
  margin-bottom: 8px;
}
.number.mix {
  width: 170px;
  grid-template-columns: 1fr 44px;
}
.space {
  flex: 1;
}
.body {
  display: flex;
  gap: 24px;
  align-items: flex-start;
}
.body > :first-child {
  flex: none;
}
.body > .picture {
  width: 460px;
}
.params {
  flex: 1;
  min-width: 0;
}
.two {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  column-gap: 24px;
}
.bandrow {
  display: grid;
  grid-template-columns: 16px 96px repeat(3, 76px);
  gap: 8px;
  align-items: center;
  height: 27px;
}
.cuts {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  column-gap: 16px;
  margin-top: 4px;
  border-top: 1px solid var(--rule);
  padding-top: 4px;
}
.act {
  color: var(--acting);
  padding: 2px 0;
}
</style>

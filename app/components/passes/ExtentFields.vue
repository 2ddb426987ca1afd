<script setup lang="ts">
// From where to where is printed, and how long what rings is let ring.
import type { Extent } from '~/session/extent'
import { usePasses } from '~/stores/passes'
import { useTransport } from '~/stores/transport'

defineProps<{ goesOut: boolean }>()
const passes = usePasses(),
  transport = useTransport()
const set = (fields: Partial<Extent>) => (passes.extent = { ...passes.extent, ...fields })
const bar = (label: string) => ({ label, min: 1, max: 9999, initial: 1, step: 1 })
const roll = (label: string, initial: number) => ({ label, unit: 's', min: 0, max: 60, initial, step: 0.5 })
const TAILS: [Extent['tail'], string][] = [
  ['declared', 'as long as processors ring'],
  ['quiet', 'until below −90 dBFS'],
  ['fixed', 'for a fixed time']
]
</script>

<template>
  <span class="extent">
    <el-select
      :model-value="passes.extent.of"
      size="small"
      style="width: 150px"
      aria-label="what is printed of it"
      @change="(of: Extent['of']) => set({ of })"
    >
      <el-option value="all" label="all of it" />
      <el-option value="marked" label="the marked range" :disabled="!transport.repeat" />
      <el-option value="bars" label="bars" />
    </el-select>
    <template v-if="passes.extent.of === 'bars'">
      <NumberField
        :quantity="bar('first bar')"
        :value="passes.extent.fromBar"
        style="width: 56px"
        @done="v => set({ fromBar: Math.round(v as number) })"
      />to<NumberField
        :quantity="bar('last bar')"
        :value="passes.extent.toBar"
        style="width: 56px"
        @done="v => set({ toBar: Math.round(v as number) })"
      />
    </template>
    <span class="caption">then</span>
    <el-select
      :model-value="passes.extent.tail"
      size="small"
      style="width: 200px"
      aria-label="how long it is let ring"
      @change="(tail: Extent['tail']) => set({ tail })"
    >
      <el-option
        v-for="[tail, label] in TAILS"
        :key="tail"
        :value="tail"
        :label="passes.extent.of !== 'all' && tail === 'declared' ? 'not longer' : label"
        :disabled="passes.extent.of !== 'all' && tail === 'quiet'"
      />
    </el-select>
    <NumberField
      v-if="passes.extent.tail === 'fixed'"
      :quantity="{ label: 'seconds that it rings', unit: 's', min: 0, max: 600, initial: 4 }"
      :value="passes.extent.tailS"
      style="width: 76px"
      @done="v => set({ tailS: v as number })"
    />
    <span v-if="goesOut" class="rolls">
      <span class="caption" title="Units run before what is printed and behind it; both are discarded.">rolls</span>
      <NumberField
        :quantity="roll('seconds of pre-roll', 2)"
        :value="passes.extent.preRollS"
        style="width: 52px"
        @done="v => set({ preRollS: v as number })"
      /><span class="caption">before,</span>
      <NumberField
        :quantity="roll('seconds of post-roll', 1)"
        :value="passes.extent.postRollS"
        style="width: 52px"
        @done="v => set({ postRollS: v as number })"
      /><span class="caption">behind</span>
    </span>
  </span>
</template>

<style scoped>
.extent,
.rolls {
  display: flex;
  align-items: center;
  gap: 8px;
  flex-wrap: wrap;
}
</style>

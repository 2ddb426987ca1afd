<script setup lang="ts">
// A loop inside a channel: where it goes and comes back, send and return, what was measured.
import { computed } from 'vue'
import { pingIsStale } from '@nullet/core/measure/ping'
import type { Loop } from '@nullet/core/session/rows'
import { GAIN } from '~/numbers/quantity'
import { dB } from '~/words/format'
import { useSession } from '~/stores/session'
import { goTo } from '~/stores/goTo'

const props = defineProps<{ loop: Loop }>()
const store = useSession()
const ports = (ids: string[]) => ids.map(p => store.session!.port[p]?.name).join(', ')
const state = computed(() => {
  const { ping, applied } = props.loop
  if (!ping) return 'not pinged: the driver’s delay is used'
  if (pingIsStale(store.session!, props.loop)) return 'the rig has changed since its ping: ping it again'
  return `${ping.delaySamples.toFixed(2)} samples${applied ? '' : ', not applied'}`
})
const set = (fields: object) => store.apply('setLoop', { id: props.loop.id, fields })
const LEVELS = { sendDb: 'Send', returnDb: 'Return' } as const
</script>

<template>
  <div class="loop">
    <div class="ladder">
      <div>
        <span class="caption">out</span><span>{{ ports(loop.outPorts) }}</span
        ><PortMeter v-for="p in loop.outPorts" :key="p" :port="p" />
      </div>
      <span class="arrow" aria-hidden="true">→ rig →</span>
      <div>
        <span class="caption">in</span><span>{{ ports(loop.inPorts) }}</span
        ><PortMeter v-for="p in loop.inPorts" :key="p" :port="p" />
      </div>
    </div>
    <div class="params">
      <div v-for="(label, field) in LEVELS" :key="field" class="row">
        <span class="caption">{{ label.toLowerCase() }}</span><NumberField
          :quantity="{ ...GAIN, label }"
          :value="loop[field]"
          @move="v => store.preview('loop', [loop.id], () => ({ [field]: v }))"
          @done="v => set({ [field]: v })"
        />
      </div>
      <div class="row">
        <span class="caption">polarity</span
        ><el-switch
          :model-value="loop.inverted"
          active-text="turned"
          inactive-text="as it comes"
          @change="v => set({ inverted: v })"
        />
      </div>
      <div class="row">
        <span class="caption">delay</span><span>{{ state }}</span>
        <span class="num quiet">{{ loop.ping ? `${dB(loop.ping.gainDb)} dB` : '' }}</span>
        <button class="plain act" @click="goTo({ path: `/s/${store.id}/rig`, query: { at: loop.id } })">
          open in Rig
        </button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.loop {
  display: flex;
  gap: 32px;
}
.ladder {
  display: flex;
  gap: 16px;
  align-items: center;
}
.ladder > div {
  display: grid;
  gap: 4px;
  width: 160px;
}
.arrow {
  color: var(--ink-2);
}
.params {
  flex: 1;
  max-width: 460px;
}
.row {
  display: flex;
  gap: 12px;
  align-items: center;
  min-height: 28px;
}
.act {
  color: var(--acting);
}
</style>

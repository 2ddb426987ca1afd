<script setup lang="ts">
// Live level at a port in dBFS.
import { ref, watch } from 'vue'
import { dB } from '~/words/format'
import { levelShare } from '~/numbers/levelScale'
import { useTransport } from '~/stores/transport'

const props = defineProps<{ port: string; bare?: boolean }>()
const transport = useTransport()
const fill = ref<HTMLElement>(),
  text = ref<HTMLElement>()
watch(
  () => transport.beat,
  () => {
    const level = transport.levels.get(`port/${props.port}`) ?? -Infinity
    if (fill.value) {
      fill.value.style.transform = `scaleX(${levelShare(level)})`
      fill.value.classList.toggle('over', level >= -0.1)
    }
    if (text.value && transport.beat % 6 === 0) text.value.textContent = dB(level)
  },
  { flush: 'sync' }
)
</script>

<template>
  <span class="meter"
    ><i><i ref="fill" /></i><span v-if="!bare" ref="text" class="num">−∞</span></span
  >
</template>

<style scoped>
.meter {
  display: flex;
  gap: 6px;
  align-items: center;
}
.meter > i {
  flex: 1;
  height: 4px;
  background: var(--track);
  display: block;
}
.meter i i {
  display: block;
  height: 4px;
  background: var(--signal);
  transform: scaleX(0);
  transform-origin: 0 0;
}
.meter i i.over {
  background: var(--wrong);
}
.num {
  width: 40px;
  font-size: 11px;
}
</style>

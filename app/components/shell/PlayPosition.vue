<script setup lang="ts">
// Where it plays, in time and in bars: a component of its own, since it changes all the time, in a box whose size does
// not depend on it, so that nothing around it is laid out anew.
import { computed } from 'vue'
import { barText, beatOfFrame } from '@nullet/core/notes/tempo'
import { settings } from '@nullet/core/session/session'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useTransport } from '~/stores/transport'
import { shortTime, time } from '~/words/format'

const store = useSession(),
  transport = useTransport(),
  shell = useShell()
/** While it plays, as often as digits can be followed: each time the page is laid out and painted for them. */
const STEPS_PER_SECOND = 20
const at = computed(() => {
  const step = transport.playing ? transport.rate / STEPS_PER_SECOND : 1
  return time(Math.floor(transport.position / step) * step, transport.rate)
})
const bars = computed(() => {
  const s = settings(store.session!)
  return barText(beatOfFrame(s.tempo, transport.position, transport.rate), s.beatsPerBar)
})
const characters = computed(() => time(transport.length, transport.rate).length)
</script>

<template>
  <div class="when">
    <div class="box" :style="{ width: `${characters}ch` }">
      <span class="num big" data-position>{{ at }}</span>
    </div>
    <span class="caption"
      ><button class="plain" title="bar.beat; click for the tempo (t m)" data-bar @click="shell.sheet = 'tempo'">
        {{ bars }}
      </button>
      of {{ shortTime(transport.length, transport.rate) }}</span
    >
  </div>
</template>

<style scoped>
.when {
  flex: none;
}
.box {
  contain: strict;
  height: 24px;
  font: 20px/24px var(--mono);
}
.big {
  display: block;
  font-size: inherit;
  text-align: left;
}
.caption {
  display: block;
}
</style>

<script setup lang="ts">
// What can be done to what a track plays: crop, whole again, repeat.
import { computed } from 'vue'
import { useClips } from '~/stores/clips'
import { useTransport } from '~/stores/transport'

const props = defineProps<{ channel: string }>()
const clips = useClips(),
  transport = useTransport()
const played = computed(() => clips.of(props.channel))
</script>

<template>
  <span v-if="played.length" class="deeds">
    <button v-if="transport.repeat" class="plain act" data-crop @click="clips.crop(channel, false)">
      crop to the marked range
    </button>
    <button
      class="plain act"
      data-crop-bars
      :title="
        transport.repeat ? 'to the whole bars inside the marked range' : 'to the whole bars inside what is played'
      "
      @click="clips.crop(channel, true)"
    >
      crop to whole bars
    </button>
    <button v-if="played.some(clips.isCropped)" class="plain act" data-whole @click="clips.whole(channel)">
      all of it again
    </button>
    <button class="plain act" data-repeat-clip @click="clips.repeat(channel)">repeat…</button>
  </span>
</template>

<style scoped>
.deeds {
  display: inline-flex;
  gap: 14px;
}
.act {
  color: var(--acting);
  font-size: 12px;
}
</style>

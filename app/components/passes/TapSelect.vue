<script setup lang="ts">
// One of the taps along a channel.
import { TAPS, type Tap } from '@nullet/core/session/rows'

withDefaults(defineProps<{ tap: Tap; label: string; taps?: readonly Tap[] }>(), { taps: () => TAPS })
const emit = defineEmits<{ choose: [tap: Tap] }>()
</script>

<template>
  <el-select
    :model-value="tap"
    size="small"
    style="width: 104px"
    :aria-label="label"
    @change="(t: Tap) => emit('choose', t)"
    ><el-option v-for="t in taps" :key="t" :value="t" :label="t === 'input' ? 'input' : `${t}-fader`"
  /></el-select>
</template>

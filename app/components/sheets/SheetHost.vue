<script setup lang="ts">
// Shows the sheet that is asked for. A sheet is a longer question: what would happen is shown before it does.
import { computed } from 'vue'
import { useShell } from '~/stores/shell'
import { SHEETS } from './sheets'

const shell = useShell()
const sheet = computed(() => SHEETS[shell.sheet ?? ''])
</script>

<template>
  <el-dialog
    v-if="sheet"
    :model-value="true"
    :title="sheet.title"
    :width="sheet.width"
    align-center
    :close-on-press-escape="false"
    destroy-on-close
    data-sheet
    @close="shell.sheet = null"
  >
    <component :is="sheet.component" @close="shell.sheet = null" />
  </el-dialog>
</template>

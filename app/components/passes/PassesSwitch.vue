<script setup lang="ts">
// Prints and the next pass, or channels over time.
import { useShell } from '~/stores/shell'

const shell = useShell()
</script>

<template>
  <el-radio-group v-model="shell.passesAs" size="small" aria-label="view of the passes"
    ><el-radio-button value="prints">Prints</el-radio-button
    ><el-radio-button value="time">Over time</el-radio-button></el-radio-group
  >
</template>

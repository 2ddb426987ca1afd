<script setup lang="ts">
import { useTheme } from '~/stores/theme'
useTheme()
</script>

<template>
  <NuxtPage />
</template>

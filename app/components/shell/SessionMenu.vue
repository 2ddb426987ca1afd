<script setup lang="ts">
// The session's name, and what can be done with all of it.
import { computed } from 'vue'
import { settings } from '@nullet/core/session/session'
import { useAsk } from '~/stores/ask'
import { goTo } from '~/stores/goTo'
import { savePackage } from '~/stores/package'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'

const store = useSession(),
  shell = useShell(),
  ask = useAsk()
const name = computed(() => (store.session ? settings(store.session).name : ''))

async function menu(command: string): Promise<void> {
  if (command === 'all') await goTo('/')
  else if (command === 'package') await savePackage()
  else if (['templates', 'table', 'families', 'receiver'].includes(command)) shell.sheet = command
  else if (command === 'rename') {
    const answer = await ask.ask({ title: 'Rename the session', kind: 'text', initial: name.value })
    if (answer) store.apply('setSession', { name: answer })
  }
}
</script>

<template>
  <el-dropdown trigger="click" :persistent="false" @command="menu">
    <button class="plain clip session" :title="name">{{ name }} <span class="quiet">▾</span></button>
    <template #dropdown>
      <el-dropdown-menu>
        <el-dropdown-item command="rename">Rename…</el-dropdown-item>
        <el-dropdown-item command="package">Save as a session package</el-dropdown-item>
        <el-dropdown-item command="receiver">Package for a receiver…</el-dropdown-item>
        <el-dropdown-item command="templates">Templates…</el-dropdown-item>
        <el-dropdown-item command="table">Table of crosspoints…</el-dropdown-item>
        <el-dropdown-item command="families">Words for families…</el-dropdown-item>
        <el-dropdown-item command="all" divided>All sessions</el-dropdown-item>
      </el-dropdown-menu>
    </template>
  </el-dropdown>
</template>

<style scoped>
.session {
  max-width: 210px;
}
@media (max-width: 1000px) {
  .session {
    max-width: 150px;
  }
}
</style>

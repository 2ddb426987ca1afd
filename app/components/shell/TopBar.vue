<script setup lang="ts">
// Product, session, views with counts, checks, what is stored.
import { computed } from 'vue'
import { goTo } from '~/stores/goTo'
import { rows, settings } from '@nullet/core/session/session'
import { useAsk } from '~/stores/ask'
import { useJobs } from '~/stores/jobs'
import { useSelection } from '~/stores/selection'
import { useChecks } from '~/stores/checks'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useStrips } from '~/stores/strips'
import { useTheme } from '~/stores/theme'
import { plural } from '~/words/format'
import type { FitItem } from './FitRow.vue'
import { VIEWS } from './views'

defineProps<{ view: string }>()
const store = useSession(),
  checks = useChecks(),
  jobs = useJobs(),
  selection = useSelection(),
  shell = useShell(),
  theme = useTheme(),
  ask = useAsk(),
  strips = useStrips()
const name = computed(() => (store.session ? settings(store.session).name : ''))
const soloed = computed(() => (store.session ? rows(store.session, 'channel').filter(c => c.soloed).length : 0))
const query = computed(() => (selection.list.length ? { sel: selection.list.join(',') } : {}))
const extra = computed((): Record<string, string> => {
  const s = store.session
  if (!s) return {}
  const rig = s.rig[settings(s).rig ?? '']
  const passes = jobs.open.length
  return { rig: rig ? rig.name : '', passes: passes ? `${passes} running` : '' }
})
const STATES = { loading: 'opening…', saved: 'saved', saving: 'saving…', gone: 'this session is not there any more' }
const state = computed(() =>
  store.status !== 'waiting'
    ? STATES[store.status]
    : store.waitingCount
      ? `${plural(store.waitingCount, 'edit waits', 'edits wait')}: server away`
      : 'server away'
)

const tools = computed((): FitItem[] => {
  const many = checks.findings.length
  return [
    {
      label: 'undo',
      title: store.undos.at(-1)?.label,
      disabled: !store.undos.length,
      look: 'quietly',
      attrs: { 'data-undo': '' },
      run: store.undo
    },
    {
      label: 'redo',
      title: store.redos.at(-1)?.label,
      disabled: !store.redos.length,
      look: 'quietly',
      attrs: { 'data-redo': '' },
      run: store.redo
    },
    {
      label: 'done…',
      title: 'everything that was done, and back to any step (v h)',
      look: 'quietly',
      attrs: { 'data-history': '' },
      run: () => (shell.historyOpen = !shell.historyOpen)
    },
    {
      label: many ? plural(many, 'check', 'checks') : 'no checks',
      look: many ? 'mind' : 'quietly',
      attrs: { 'data-checks': '' },
      run: () => (shell.checksOpen = true)
    },
    ...(soloed.value
      ? [
          {
            label: `${soloed.value} soloed`,
            title: 'end every solo (c s)',
            look: 'acting',
            attrs: { 'data-clear-solo': '' },
            run: strips.clearSolo
          }
        ]
      : []),
    ...(shell.linksLifted
      ? [
          {
            label: 'links lifted',
            title: 'links do nothing while they are lifted (l l)',
            look: 'acting',
            attrs: { 'data-lifted': '' },
            run: shell.toggleLifted
          }
        ]
      : []),
    {
      label: theme.name === 'paper' ? 'Paper' : 'Dim room',
      title: `theme; click for ${theme.name === 'paper' ? 'Dim room' : 'Paper'} (v d)`,
      look: 'quietly',
      attrs: { 'data-theme-switch': '' },
      run: theme.toggle
    }
  ]
})

async function menu(command: string): Promise<void> {
  if (command === 'all') await goTo('/')
  else if (command === 'package') window.location.href = `/api/sessions/${encodeURIComponent(store.id)}/package`
  else if (['templates', 'table', 'families', 'receiver'].includes(command)) shell.sheet = command
  else if (command === 'rename') {
    const answer = await ask.ask({ title: 'Rename the session', kind: 'text', initial: name.value })
    if (answer) store.apply('setSession', { name: answer })
  }
}
</script>

<template>
  <div class="bar" role="region" aria-label="session">
    <h1 class="unseen">{{ name }}</h1>
    <NuxtLink to="/" class="mark">Nullet</NuxtLink>
    <el-dropdown trigger="click" @command="menu">
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
    <nav aria-label="views">
      <NuxtLink
        v-for="v in VIEWS"
        :key="v.path"
        :to="{ path: `/s/${store.id}/${v.path}`, query }"
        :class="{ here: v.path === view }"
        :aria-current="v.path === view ? 'page' : undefined"
      >
        {{ v.label }}<span v-if="extra[v.path]" class="quiet"> · {{ extra[v.path] }}</span>
      </NuxtLink>
    </nav>
    <FitRow :items="tools" :gap="16" />
    <span class="state" :class="store.status" data-state>{{ state }}</span>
    <button class="plain" aria-label="keys" title="keys and commands (?)" @click="shell.helpOpen = true">?</button>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 0 16px;
  border-bottom: 1px solid var(--rule);
  white-space: nowrap;
}
.mark {
  font-weight: 600;
  font-size: 16px;
  color: var(--ink);
  text-decoration: none;
}
.session {
  max-width: 210px;
}
nav {
  display: flex;
  gap: 22px;
  margin-left: 12px;
  align-self: stretch;
}
@media (max-width: 1000px) {
  .bar,
  nav {
    gap: 12px;
  }
  nav {
    margin-left: 0;
  }
  .session {
    max-width: 150px;
  }
}
nav a {
  display: flex;
  align-items: center;
  gap: 4px;
  color: var(--ink-2);
  text-decoration: none;
  border-bottom: 2px solid transparent;
  border-top: 2px solid transparent;
}
nav a:hover {
  color: var(--ink);
}
nav a.here {
  color: var(--ink);
  font-weight: 600;
  border-bottom-color: var(--acting);
}
nav .quiet {
  font-weight: 400;
}
.state {
  color: var(--ink-2);
}
.state.waiting {
  color: var(--wrong);
}
</style>

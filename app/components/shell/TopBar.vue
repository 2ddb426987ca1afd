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
      ? `${store.waitingCount} ${store.waitingCount === 1 ? 'edit waits' : 'edits wait'}: server away`
      : 'server away'
)

async function menu(command: string): Promise<void> {
  if (command === 'all') await goTo('/')
  else if (command === 'package') window.location.href = `/api/sessions/${encodeURIComponent(store.id)}/package`
  else if (['templates', 'table', 'families'].includes(command)) shell.sheet = command
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
          <el-dropdown-item command="package">Take out as a session package</el-dropdown-item>
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
    <span class="space" />
    <button
      class="plain step"
      :disabled="!store.undos.length"
      :title="store.undos.at(-1)?.label"
      data-undo
      @click="store.undo"
    >
      undo
    </button>
    <button
      class="plain step"
      :disabled="!store.redos.length"
      :title="store.redos.at(-1)?.label"
      data-redo
      @click="store.redo"
    >
      redo
    </button>
    <button
      class="plain step"
      title="everything that was done, and back to any step (v h)"
      data-history
      @click="shell.historyOpen = !shell.historyOpen"
    >
      done…
    </button>
    <button class="plain checks" :class="{ some: checks.findings.length }" data-checks @click="shell.checksOpen = true">
      {{
        checks.findings.length === 0
          ? 'no checks'
          : checks.findings.length === 1
            ? '1 check'
            : `${checks.findings.length} checks`
      }}
    </button>
    <button v-if="soloed" class="plain solo" title="clear every solo (c s)" data-clear-solo @click="strips.clearSolo">
      {{ soloed }} soloed
    </button>
    <button
      v-if="shell.linksLifted"
      class="plain solo"
      title="links do nothing while they are lifted (l l)"
      data-lifted
      @click="shell.toggleLifted"
    >
      links lifted
    </button>
    <span class="state" :class="store.status" data-state>{{ state }}</span>
    <button class="plain" :title="theme.name === 'paper' ? 'Dim room' : 'Paper'" @click="theme.toggle">
      {{ theme.name === 'paper' ? 'dim' : 'paper' }}
    </button>
    <button class="plain" aria-label="keys" @click="shell.helpOpen = true">?</button>
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
.space {
  flex: 1;
}
.step {
  color: var(--ink-2);
}
.checks {
  color: var(--ink-2);
}
.checks.some {
  color: var(--mind);
}
.solo {
  color: var(--acting);
}
.state {
  color: var(--ink-2);
}
.state.waiting {
  color: var(--wrong);
}
</style>
